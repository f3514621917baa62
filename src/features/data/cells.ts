"use server";
/** Many cells at once: a block that was pasted, a column filled down, one value for several records, and what undo puts back. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { err, ok, type Result } from "@/core/result";
import { isRelation, pointsToSeveral } from "@/core/schema/fields/natures";
import { type Field, kindOf, type Table, type Value } from "@/core/schema/types";
import { companyOfRecord, heldElsewhere } from "@/data/records/moving";
import { etagOf } from "@/data/records/write/write";
import { keepView, removeView, viewSchema } from "@/data/views/views";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { text, word, words, yes } from "@/identity/requests/takes";
import { officeAction, officeCall } from "@/office/action";
import { MOST_MOVED, type Moved, moveTask } from "./moving";
import type { GridRow } from "./queries";

const MOST_CELLS = 5_000;
const changes = z.object({
  table: z.string(),
  records: z
    .array(
      z.object({
        record: z.string(),
        seen: z.string().nullable(),
        cells: z.array(z.object({ field: z.string(), texts: z.array(z.string().max(200_000)).max(500) })).max(200),
      }),
    )
    .max(MOST_CELLS),
});
export type CellChanges = z.infer<typeof changes>;

export interface CellsAnswer {
  readonly rows: readonly GridRow[];
  readonly problems: readonly { readonly record: string; readonly field: string | null; readonly message: string }[];
}

export const changeCells = officeCall("records", [changes], async (p, given): Promise<CellsAnswer> => {
  const table = p.live.policy.schema.findTable(given.table);
  if (!table) return { rows: [], problems: [{ record: "", field: null, message: "This cannot be read. Load the page again." }] };
  if (given.records.reduce((n, r) => n + r.cells.length, 0) > MOST_CELLS)
    return {
      rows: [],
      problems: [{ record: "", field: null, message: `At most ${MOST_CELLS.toLocaleString("en-GB")} cells change at once.` }],
    };
  const rows: GridRow[] = [];
  const problems: CellsAnswer["problems"][number][] = [];
  const names = new Map<string, Result<string, string>>();
  for (const r of given.records) {
    const values: Record<string, Value> = {};
    for (const c of r.cells) {
      const field = table.fields.find((f) => f.id === c.field);
      const read = field && !field.system ? readTexts(p, field, c.texts, names) : err<string>("This field is set by Elkhorn itself.");
      if (read.ok) values[c.field] = read.value;
      else problems.push({ record: r.record, field: c.field, message: read.error });
    }
    if (Object.keys(values).length === 0) continue;
    const done = p.desk.change(table, r.record, values, r.seen);
    if (done.ok) rows.push(asRow(done.value.read()));
    else if (done.error.code === "invalid")
      problems.push(...done.error.errors.map((e) => ({ record: r.record, field: e.field, message: e.message })));
    else
      problems.push({
        record: r.record,
        field: null,
        message: done.error.code === "stale" ? "Somebody changed it meanwhile." : "This record is gone.",
      });
  }
  if (rows.length > 0) revalidatePath(`/portals/${p.slug}/data`, "layout");
  return { rows, problems };
});

const asRow = (r: { id: string; fields: GridRow["fields"] }): GridRow => ({
  id: r.id,
  seen: etagOf(r),
  fields: { ...r.fields },
  late: null,
});

/** Related records by their id or, as a spreadsheet has them, by name. */
function readTexts(
  p: OfficePortal,
  field: Field,
  texts: readonly string[],
  known: Map<string, Result<string, string>>,
): Result<Value, string> {
  if (!isRelation(field)) return kindOf(field).parse(texts, field, { timeZone: p.live.definition.portal.timeZone });
  const parts = pointsToSeveral(field) ? texts.flatMap((t) => t.split(/[;\n]/)) : texts;
  const ids: string[] = [];
  const target = p.live.policy.schema.table(field.options.target);
  for (const part of parts.map((t) => t.trim()).filter(Boolean)) {
    const key = `${target.id} ${part}`;
    let found = known.get(key);
    if (!found) known.set(key, (found = named(p, target, part)));
    if (!found.ok) return found;
    ids.push(found.value);
  }
  return ok(pointsToSeveral(field) ? ids : (ids[0] ?? null));
}

function named(p: OfficePortal, target: Table, text: string): Result<string, string> {
  if (p.desk.read(target, text)) return ok(text);
  const condition = {
    kind: "test" as const,
    path: [target.labelFieldId],
    operator: "is" as const,
    operands: [{ kind: "literal" as const, value: text }],
  };
  const { records } = p.desk.list(target, { condition, limit: 2, only: new Set([target.labelFieldId]) });
  if (records.length === 1) return ok(records[0]!.id);
  const said = text.length > 60 ? `${text.slice(0, 60)}…` : text;
  return err(
    records.length === 0 ? `Nothing of ${target.name} is called “${said}”.` : `More than one of ${target.name} is called “${said}”.`,
  );
}

/** What it does to who sees them, where the field says whose records are; null where it does not. */
export const movingWords = officeCall(
  "records",
  [word, word, text, words],
  async (p, tableId, fieldId, text, ids): Promise<string | null> => {
    const { policy } = p.live;
    const table = policy.schema.findTable(tableId);
    const wall = table && policy.wall(table.id);
    const field = table?.fields.find((f) => f.id === fieldId);
    if (!table || wall?.kind !== "owned" || wall.path[0] !== fieldId || !field || !isRelation(field) || ids.length > MOST_CELLS)
      return null;
    const target = policy.schema.table(field.options.target);
    const to = text.trim() === "" ? ok(null) : named(p, target, text.trim());
    if (!to.ok) return null;
    const next = to.value === null ? null : companyOfRecord(p.file, p.owner, target, to.value);
    const before = heldElsewhere(p.file, p.owner, table, ids, next?.id ?? null);
    if (before.length === 0) return null;
    const thing = (n: number): string => (n === 1 ? `one ${table.singular.toLowerCase()}` : `${n} ${table.name.toLowerCase()}`);
    const leaving = before.filter((b) => b.name !== null).map((b) => `${b.name} no longer sees ${thing(b.records)}`);
    const all = before.reduce((n, b) => n + b.records, 0);
    const words = [...leaving, next ? `${next.name} sees ${thing(all)} more` : "no company sees them"].join("; ");
    return `${words.charAt(0).toUpperCase()}${words.slice(1)}, as far as their grants go.`;
  },
);

const moveAsk = z.object({ table: z.string(), from: z.string(), to: z.string(), ids: z.array(z.string()).max(MOST_MOVED).optional() });
export type MoveAnswer = { ok: true; value: Moved } | { ok: false; message: string };

/** All records of a company moved under another; without `really` only tried. */
export const moveToCompany = officeAction("records", [moveAsk, yes], async (p, given, really): Promise<MoveAnswer> => {
  const done = await moveTask.do({ portal: p.file.slug, ...given, really }, p.owner);
  p.file.meta.look();
  if (!done.ok) return { ok: false, message: done.error };
  if (really) revalidatePath(`/portals/${p.slug}`, "layout");
  return { ok: true, value: done.value };
});

/** Without a name it is how one's own grid is found again. */
export const rememberView = officeAction(
  "records",
  [word, word, z.unknown()],
  async (p, tableId, name, view): Promise<{ ok: true; id: string } | { ok: false; message: string }> => {
    const parsed = viewSchema.safeParse(view);
    if (!parsed.success || !p.live.policy.schema.findTable(tableId)) return { ok: false, message: "This view cannot be kept." };
    const done = keepView(p.file, p.owner, tableId, name, parsed.data);
    if (!done.ok) return { ok: false, message: done.error };
    if (name.trim() !== "") revalidatePath(`/portals/${p.slug}/data`, "layout");
    return { ok: true, id: done.value.id };
  },
);

export const forgetView = officeCall("records", [word], async (p, id): Promise<void> => {
  removeView(p.file, p.owner, id);
  revalidatePath(`/portals/${p.slug}/data`, "layout");
});
