"use server";
/** A filter as the editor of filters has it, and back as it is stored: for every room that lets one be written. */
import { type DraftProblem, fromDraft, type GroupDraft, groupDraft, nestsTooDeep, toDraft } from "@/core/filter/edit";
import { conditionSchema } from "@/core/schema/condition";
import { officePortal } from "@/identity/requests/office-gate";
import { type PathChoice, pathChoices } from "./paths";

/** With what it may test. */
export async function openFilter(
  slug: string,
  table: string,
  condition: unknown,
): Promise<{ group: GroupDraft; paths: PathChoice[] } | null> {
  const p = await officePortal(slug, "bill");
  const { schema } = p.live.policy;
  const parsed = conditionSchema.nullable().safeParse(condition);
  const of = schema.findTable(String(table));
  if (!of || !parsed.success) return null;
  let keys = 0;
  return { group: toDraft(parsed.data, schema, () => `s${++keys}`), paths: pathChoices(schema, of) };
}

/** What is not whole is named. */
export async function readFilter(
  slug: string,
  table: string,
  group: GroupDraft,
): Promise<{ ok: true; condition: unknown } | { ok: false; problems: DraftProblem[] }> {
  const p = await officePortal(slug, "bill");
  const { schema } = p.live.policy;
  const of = schema.findTable(String(table));
  const parsed = nestsTooDeep(group) ? null : groupDraft.safeParse(group);
  if (!of || !parsed?.success) return { ok: false, problems: [{ key: "", message: "This filter could not be read." }] };
  const read = fromDraft(parsed.data, of, schema);
  return read.ok ? { ok: true, condition: read.value } : { ok: false, problems: read.error };
}
