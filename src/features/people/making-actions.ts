"use server";
/** Making people or companies of a table, and a level below the company: what the owner asks for by hand. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { levelBelow } from "@/data/making/level";
import { word, yes } from "@/identity/requests/takes";
import { officeAction } from "@/office/action";
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
export const makeOfTable = officeAction("build", [ask, yes], async (p, given, really): Promise<MakingAnswer> => {
  const done = await makePeopleTask.do({ portal: p.file.slug, ...given, really }, p.owner);
  p.file.meta.look();
  if (!done.ok) return { ok: false, message: done.error };
  if (really) revalidatePath(`/portals/${p.slug}`, "layout");
  return { ok: true, value: done.value };
});

export const addLevel = officeAction(
  "build",
  [word, word],
  async (p, table, role): Promise<{ ok: true; field: string } | { ok: false; message: string }> => {
    const done = levelBelow(p.file, p.owner, { table: String(table).slice(0, 64), role: String(role).slice(0, 200) });
    if (!done.ok) return { ok: false, message: done.error };
    revalidatePath(`/portals/${p.slug}`, "layout");
    return { ok: true, field: done.value.field };
  },
);
