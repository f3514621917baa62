/** A table's records: as rows, cards, a board, a calendar, a gallery, or the first few. */

import { z } from "zod";
import { choosesOne, holdsPictures, isDated } from "../schema/fields/natures";
import { type Around, fieldsGone, ref, type SectionKind, sourceProblems, sourceSchema, unfit, words } from "./kind";

export const LOOKS = ["rows", "cards", "board", "calendar", "gallery", "few"] as const;
export type ListLook = (typeof LOOKS)[number];
/** Whether the look shows a month or all columns rather than pages of records: empty, it still says where one is. */
export const isWhole = (look: ListLook): boolean => look === "board" || look === "calendar";

/** What every list has, those of the records that point to a page's record too. */
export const listConfig = {
  look: z.enum(LOOKS),
  /** What it goes by: the board's choice, the calendar's date, the gallery's picture. The first that fits where none is named. */
  by: ref.nullable(),
  /** In their order, under their own names; all that the reader sees where none are picked. */
  columns: z
    .array(z.strictObject({ field: ref, name: words(60).optional() }))
    .max(60)
    .nullable(),
  /** Shown above: a box to search in, and the choices by which the reader may narrow it (all where none are picked). */
  search: z.boolean(),
  filters: z.array(ref).max(12).nullable(),
  /** Summed under the list, over all of it. */
  sums: z.array(ref).max(12),
  size: z.int().min(1).max(200),
  /** What a row does: to the record's page, to another page about it, or nothing. */
  opens: z.union([z.literal("record"), z.literal("nothing"), z.strictObject({ page: ref })]),
  /** Said where there is nothing. */
  empty: words(300),
  /** Ways to add a record and to take the list with one, where a grant opens them. */
  adds: z.boolean(),
  downloads: z.boolean(),
  /** Acts beside each record, where a grant opens them. */
  acts: z.array(ref).max(6),
  /** Which of them somebody has read is kept for each person, and told. */
  reads: z.boolean().optional(),
};
const config = { source: sourceSchema, ...listConfig };
export type ListSettings = z.infer<z.ZodObject<typeof listConfig>>;

export const PLAIN_LIST: ListSettings = {
  look: "rows",
  by: null,
  columns: null,
  search: true,
  filters: null,
  sums: [],
  size: 50,
  opens: "record",
  empty: "",
  adds: true,
  downloads: true,
  acts: [],
};

export function listProblems(c: ListSettings, tableId: string, { schema, acts, pages }: Around): string[] {
  const table = schema.findTable(tableId);
  if (!table) return [];
  const picture = (f: (typeof table.fields)[number]): boolean => holdsPictures(f);
  return [
    ...fieldsGone([c.by, ...(c.columns ?? []).map((x) => x.field), ...(c.filters ?? []), ...c.sums], table),
    ...(c.look === "board" ? unfit(c.by, table, (f) => choosesOne(f), "is no choice, so there is no board by it.") : []),
    ...(c.look === "calendar" ? unfit(c.by, table, isDated, "is no date, so there is no calendar by it.") : []),
    ...(c.look === "gallery" ? unfit(c.by, table, picture, "holds no pictures, so there is no gallery by it.") : []),
    ...(c.acts.some((a) => acts.get(a)?.table !== tableId || acts.get(a)?.on !== "change")
      ? ["One of its buttons is an act that is gone."]
      : []),
    ...(typeof c.opens === "object" && !pages.has(c.opens.page) ? ["The page that its rows open is gone."] : []),
  ];
}

export const list: SectionKind<"list", typeof config> = {
  kind: "list",
  name: "List",
  what: "A table's records, as rows, cards, a board, a calendar or pictures.",
  config,
  reads: (c) => ({ table: c.source.table, doing: "see", standsFor: true }),
  asks: true,
  heads: true,
  problems: (c, around) => [...sourceProblems(c.source, around.schema), ...listProblems(c, c.source.table, around)],
};
