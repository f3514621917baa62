"use server";
/** Editing in the grid, adding, removing and its undo. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { holdsFiles } from "@/core/schema/fields/natures";
import type { FoundRecords, Offered } from "@/core/schema/offered";
import type { SeenValue } from "@/core/schema/seen";
import { kindOf, type Schema } from "@/core/schema/types";
import { listIn } from "@/core/text/format";
import { type EarlierFile, earlierFiles } from "@/data/files/earlier";
import { chooseRecords, namedRecords } from "@/data/records/choose";
import { restore } from "@/data/records/desk";
import { readForm, refusalWords } from "@/data/records/form";
import { type Pointing, pointingTo, type Removal } from "@/data/records/write/remove";
import { etagOf } from "@/data/records/write/write";
import { text, word, words, yes } from "@/identity/requests/takes";
import { officeAction, officeCall, officeForm } from "@/office/action";

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

export const changeCell = officeAction("records", [cellChange], async (p, input): Promise<CellAnswer> => {
  const table = p.live.policy.schema.findTable(input.table);
  const field = table?.fields.find((f) => f.id === input.field);
  if (!table || !field) return { ok: false, message: "There is no such field any more. Load the page again." };
  if (field.system) return { ok: false, message: `${field.name} is set by Elkhorn itself.` };
  const read = kindOf(field).parse(input.texts, field, { timeZone: p.live.definition.portal.timeZone });
  if (!read.ok) return { ok: false, message: read.error };
  const done = p.desk.change(table, input.record, { [field.id]: read.value }, input.seen);
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
});

/** What a field of files held before, with where each is had. */
export const filesBefore = officeCall("records", [word, word, words], async (p, fieldId, record, held): Promise<EarlierFile[]> => {
  const field = p.live.policy.schema.findField(fieldId);
  return field && holdsFiles(field)
    ? earlierFiles(p.file, p.owner, field, record, held).map((f) => ({ ...f, at: `/portals/${p.slug}${f.at}` }))
    : [];
});

/** Records that a relation may point to, by any part of their name or text. */
export const relationChoices = officeCall("records", [word, text], async (p, fieldId, words): Promise<FoundRecords> => {
  const target = p.live.policy.schema.findField(String(fieldId))?.options.target;
  if (!target) return { records: [], more: false };
  return chooseRecords(p.desk, p.live.policy.schema.table(target), z.string().max(200).catch("").parse(words));
});

/** The names of records that a filter or a cell names already. */
export const relationNames = officeCall("records", [word, words], async (p, fieldId, ids): Promise<Offered[]> => {
  const target = p.live.policy.schema.findField(String(fieldId))?.options.target;
  if (!target) return [];
  return namedRecords(p.desk, p.live.policy.schema.table(target), z.array(z.string().max(100)).max(500).catch([]).parse(ids));
});

export type Removing =
  | { ok: true; message: string }
  /** `ask` says what points to it: nothing is removed before that is answered. */
  | { ok: false; message: string; ask?: true };

/** `sure` where whoever removes has been told what points to it. */
export const removeFromGrid = officeCall("records", [word, word, yes], async (p, tableId, id, sure): Promise<Removing> => {
  const { schema } = p.live.policy;
  const { locale } = p.live.definition.portal;
  const table = schema.findTable(tableId);
  if (!table) return { ok: false, message: "There is no such table." };
  const name = p.desk.labelOf(table, id);
  const pointing = sure ? [] : pointingTo(p.file, p.live.policy, tableId, id);
  if (pointing.length > 0) return { ok: false, ask: true, message: askWords(schema, pointing, locale) };
  const done = p.desk.remove(table, id);
  revalidatePath(`/portals/${p.slug}/data`, "layout");
  if (done.ok) {
    const what = name ? `${table.singular} ${name.slice(0, 80)} is removed.` : `One ${table.singular.toLowerCase()} is removed.`;
    return { ok: true, message: [what, ...withItWords(schema, done.value, locale), ...pointedWords(schema, done.value, locale)].join(" ") };
  }
  return { ok: false, message: done.error.code === "invalid" ? done.error.errors[0]!.message : "It is gone already." };
});

const things = (schema: Schema, tables: ReadonlyMap<string, number>, locale: string): string =>
  listIn(
    [...tables].map(([id, n]) => {
      const t = schema.table(id);
      return n === 1 ? `one ${t.singular.toLowerCase()}` : `${n.toLocaleString(locale)} ${t.name.toLowerCase()}`;
    }),
    locale,
  );

/** "77 signs point to it and would no longer; 2 proofs would go with it." */
function askWords(schema: Schema, pointing: readonly Pointing[], locale: string): string {
  const by = (removal: string | undefined): Map<string, number> => {
    const found = new Map<string, number>();
    for (const { field, records } of pointing) {
      const f = schema.field(field);
      if ((f.options.onRemoval ?? "clear") === removal) found.set(f.tableId, (found.get(f.tableId) ?? 0) + records);
    }
    return found;
  };
  const [clear, go, keep] = [by("clear"), by("remove"), by("refuse")];
  const isOne = (of: ReadonlyMap<string, number>): boolean => of.size === 1 && [...of.values()][0] === 1;
  const points = (of: ReadonlyMap<string, number>): string => `${things(schema, of, locale)} ${isOne(of) ? "points" : "point"} to it`;
  const parts = [
    ...(keep.size > 0 ? [`${points(keep)}, and ${isOne(keep) ? "keeps" : "keep"} it from being removed`] : []),
    ...(clear.size > 0 ? [`${points(clear)}, and would point to nothing`] : []),
    ...(go.size > 0 ? [`${things(schema, go, locale)} would go with it`] : []),
  ];
  const all = parts.join("; ");
  return `${all.charAt(0).toUpperCase()}${all.slice(1)}.`;
}

function withItWords(schema: Schema, { withIt }: Removal, locale: string): string[] {
  if (withIt.length === 0) return [];
  return [`With it went ${things(schema, new Map(withIt.map((w) => [w.table, w.records])), locale)}.`];
}

/** "77 signs, 8 requests and one person pointed to it, and no longer do." */
function pointedWords(schema: Schema, { pointed }: Removal, locale: string): string[] {
  if (pointed.length === 0) return [];
  const tables = new Map<string, number>();
  for (const { field, records } of pointed) {
    const { tableId } = schema.field(field);
    tables.set(tableId, (tables.get(tableId) ?? 0) + records);
  }
  const all = things(schema, tables, locale);
  const one = tables.size === 1 && [...tables.values()][0] === 1;
  return [`${all.charAt(0).toUpperCase()}${all.slice(1)} pointed to it, and no longer ${one ? "does" : "do"}.`];
}

export const undoRemove = officeAction("records", [word], async (p, id): Promise<{ ok: true } | { ok: false; message: string }> => {
  const done = restore(p.desk, id);
  revalidatePath(`/portals/${p.slug}/data`, "layout");
  if (done.ok) return { ok: true };
  const why = done.error.code === "invalid" ? ` ${done.error.errors[0]!.message}` : "";
  return { ok: false, message: `It cannot come back.${why}` };
});

export const addInGrid = officeForm("records", [], (p, form) => {
  const table = p.live.policy.schema.tableBySlug(form.text("$table"));
  if (table?.kind !== "ordinary") return form.failed({}, "People and companies are added under People and companies.");
  const { values, errors } = readForm(p.desk, table, form.data);
  if (Object.keys(errors).length > 0) return form.failed(errors);
  const done = p.desk.add(table, values);
  if (!done.ok) {
    const { fields, message } = refusalWords(done.error);
    return form.failed(fields, message);
  }
  revalidatePath(`/portals/${p.slug}/data`, "layout");
  const label = p.desk.labelOf(table, done.value.id) ?? "";
  redirect(`/portals/${p.slug}/data/${table.slug}?q=${encodeURIComponent(label)}`);
});
