"use server";
/** Making people or companies of a table, and a level below the company: what the owner asks for by hand. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { levelBelow } from "@/data/making/level";
import { officePortalWrite } from "@/identity/requests/office-gate";
import { type Making, makePeopleTask } from "./making";

export type MakingAnswer = { ok: true; value: Making } | { ok: false; message: string };

const id = z.string().max(64);
const ask = z.object({
  table: id,
  into: z.enum(["people", "companies"]),
  name: id,
  email: id.nullable(),
  company: id.nullable(),
  joins: z.record(id, id),
  roles: z.array(id).max(50),
  agencyRoles: z.array(id).max(50),
  shown: z.boolean(),
});

/** With `really` it is done; else it is only tried. */
export async function makeOfTable(slug: string, given: z.infer<typeof ask>, really: boolean): Promise<MakingAnswer> {
  const p = await officePortalWrite(slug, "build");
  const parsed = ask.safeParse(given);
  if (!parsed.success) return { ok: false, message: "Choose what each field is." };
  const done = await makePeopleTask.do({ portal: p.file.slug, ...parsed.data, really }, p.owner);
  p.file.meta.look();
  if (!done.ok) return { ok: false, message: done.error };
  if (really) revalidatePath(`/portals/${slug}`, "layout");
  return { ok: true, value: done.value };
}

export async function addLevel(
  slug: string,
  table: string,
  role: string,
): Promise<{ ok: true; field: string } | { ok: false; message: string }> {
  const p = await officePortalWrite(slug, "build");
  const done = levelBelow(p.file, p.owner, { table: String(table).slice(0, 64), role: String(role).slice(0, 200) });
  if (!done.ok) return { ok: false, message: done.error };
  revalidatePath(`/portals/${slug}`, "layout");
  return { ok: true, field: done.value.field };
}
