"use server";
/** Editing in the grid, adding, removing and its undo, and the steps of an import. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { importPlanSchema, planProblems } from "@/core/exchange/import-plan";
import type { SeenValue } from "@/core/records";
import { kindOf, type Schema } from "@/core/schema/types";
import { listIn } from "@/core/text/format";
import { bringInImport, giveUpImport, importJob, startCheck } from "@/data/imports/jobs";
import { restore } from "@/data/records/desk";
import { readForm, refusalWords } from "@/data/records/form";
import type { Removal } from "@/data/records/write/remove";
import { etagOf } from "@/data/records/write/write";
import { officePortalWrite } from "@/identity/office-gate";
import { type FormState, failed } from "@/ui/form";

export type CellAnswer =
  | { ok: true; value: SeenValue; seen: string }
  | { ok: false; message: string; now?: { value: SeenValue; seen: string } };

const cellChange = z.object({
  table: z.string(),
  record: z.string(),
  field: z.string(),
  texts: z.array(z.string().max(2_000_000)).max(500),
  seen: z.string(),
});

export async function changeCell(slug: string, input: z.infer<typeof cellChange>): Promise<CellAnswer> {
  const p = await officePortalWrite(slug);
  const parsed = cellChange.safeParse(input);
  const table = parsed.success ? p.live.policy.schema.findTable(parsed.data.table) : undefined;
  const field = table?.fields.find((f) => f.id === input.field);
  if (!parsed.success || !table || !field) return { ok: false, message: "There is no such field any more. Load the page again." };
  if (field.system) return { ok: false, message: `${field.name} is set by Elkhorn itself.` };
  const read = kindOf(field).parse(parsed.data.texts, field);
  if (!read.ok) return { ok: false, message: read.error };
  const done = p.desk.change(table, parsed.data.record, { [field.id]: read.value }, parsed.data.seen);
  if (done.ok) {
    const now = done.value.read();
    return { ok: true, value: now.fields[field.id] ?? null, seen: etagOf(now) };
  }
  switch (done.error.code) {
    case "stale":
      return {
        ok: false,
        message: "Somebody changed this record meanwhile. Below is what it says now; press Enter to write yours over it.",
        now: { value: done.error.now.fields[field.id] ?? null, seen: etagOf(done.error.now) },
      };
    case "invalid":
      return { ok: false, message: done.error.errors[0]?.message ?? "That does not fit here." };
    default:
      return { ok: false, message: "This record is gone. Load the page again." };
  }
}

/** Records that a relation may point to, by the beginning or any part of their name. */
export async function relationChoices(slug: string, fieldId: string, words: string): Promise<{ id: string; label: string }[]> {
  const p = await officePortalWrite(slug);
  const target = p.live.policy.schema.findField(fieldId)?.options.target;
  if (!target) return [];
  const table = p.live.policy.schema.table(target);
  const { records } = p.desk.list(table, { search: words.slice(0, 100), limit: 200, only: new Set([table.labelFieldId]) });
  return records.map((r) => ({ id: r.id, label: p.desk.label(table, r) }));
}

export async function removeFromGrid(slug: string, tableId: string, id: string): Promise<{ ok: boolean; message: string }> {
  const p = await officePortalWrite(slug);
  const table = p.live.policy.schema.findTable(tableId);
  if (!table) return { ok: false, message: "There is no such table." };
  const name = p.desk.labelOf(table, id);
  const done = p.desk.remove(table, id);
  revalidatePath(`/portals/${slug}/data`, "layout");
  if (done.ok) {
    const what = name ? `${table.singular} ${name.slice(0, 80)} is removed.` : `One ${table.singular.toLowerCase()} is removed.`;
    return { ok: true, message: [what, ...pointedWords(p.live.policy.schema, done.value, p.live.definition.portal.locale)].join(" ") };
  }
  return { ok: false, message: done.error.code === "invalid" ? done.error.errors[0]!.message : "It is gone already." };
}

/** "77 signs, 8 requests and one person pointed to it, and no longer do." */
function pointedWords(schema: Schema, { pointed }: Removal, locale: string): string[] {
  if (pointed.length === 0) return [];
  const tables = new Map<string, number>();
  for (const { field, records } of pointed) {
    const { tableId } = schema.field(field);
    tables.set(tableId, (tables.get(tableId) ?? 0) + records);
  }
  const things = [...tables].map(([id, n]) => {
    const t = schema.table(id);
    return n === 1 ? `one ${t.singular.toLowerCase()}` : `${n.toLocaleString(locale)} ${t.name.toLowerCase()}`;
  });
  const all = listIn(things, locale);
  const one = tables.size === 1 && [...tables.values()][0] === 1;
  return [`${all.charAt(0).toUpperCase()}${all.slice(1)} pointed to it, and no longer ${one ? "does" : "do"}.`];
}

export async function undoRemove(slug: string, id: string): Promise<boolean> {
  const p = await officePortalWrite(slug);
  const done = restore(p.desk, id);
  revalidatePath(`/portals/${slug}/data`, "layout");
  return done.ok;
}

export async function addInGrid(slug: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug);
  const table = p.live.policy.schema.tableBySlug(String(data.get("$table") ?? ""));
  if (table?.kind !== "ordinary") return failed(before, data, {}, "People and companies are added under People and companies.");
  const { values, errors } = readForm(p.desk, table, data);
  if (Object.keys(errors).length > 0) return failed(before, data, errors);
  const done = p.desk.add(table, values);
  if (!done.ok) {
    const { fields, message } = refusalWords(done.error);
    return failed(before, data, fields, message);
  }
  revalidatePath(`/portals/${slug}/data`, "layout");
  const label = p.desk.labelOf(table, done.value.id) ?? "";
  redirect(`/portals/${slug}/data/${table.slug}?q=${encodeURIComponent(label)}`);
}

export type PlanAnswer = { ok: true } | { ok: false; problems: { at: number; message: string }[] };

export async function checkPlan(slug: string, id: string, plan: unknown): Promise<PlanAnswer> {
  const p = await officePortalWrite(slug);
  const job = importJob(p.file, p.owner, id);
  if (!job) return { ok: false, problems: [{ at: -1, message: "This import is gone. Drop the file again." }] };
  const parsed = importPlanSchema.safeParse({ ...(plan as object), currency: p.live.definition.portal.currency });
  if (!parsed.success) {
    const at = (i: z.core.$ZodIssue): number => (i.path[0] === "columns" && typeof i.path[1] === "number" ? i.path[1] : -1);
    return { ok: false, problems: parsed.error.issues.map((i) => ({ at: at(i), message: i.message })) };
  }
  const problems = planProblems(parsed.data, job.analysis.header, p.live.policy.schema);
  if (problems.length > 0) return { ok: false, problems };
  const started = startCheck(p.file, p.owner, id, parsed.data);
  return started.ok ? { ok: true } : { ok: false, problems: [{ at: -1, message: started.error }] };
}

export async function bringIn(
  slug: string,
  id: string,
): Promise<{ ok: true; table: string; rows: number } | { ok: false; message: string }> {
  const p = await officePortalWrite(slug);
  const done = await bringInImport(p.file, p.owner, id);
  revalidatePath(`/portals/${slug}`, "layout");
  return done.ok ? { ok: true, ...done.value } : { ok: false, message: done.error };
}

export async function giveUp(slug: string, id: string): Promise<void> {
  const p = await officePortalWrite(slug);
  giveUpImport(p.file, p.owner, id);
  redirect(`${p.at}/data`);
}
