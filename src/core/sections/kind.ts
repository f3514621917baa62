/**
 * A kind of section: its settings, what would be wrong with them for a schema, and what new ones begin with. What it loads and how it
 * looks stands under the same name in `features/portal/sections`.
 */

import { z } from "zod";
import { conditionProblems } from "../access/sound";
import { type Condition, conditionSchema } from "../schema/condition";
import type { Schema, Table } from "../schema/types";

/** Ids of tables, fields, pages and the rest as the definition holds them. */
export const ref = z.string().min(1).max(64);
/** A text of at most so many characters, with a sentence where it is longer. */
export const words = (most: number) => z.string().max(most, `Keep it under ${most} characters.`);

/** A table's records, narrowed and put in order. It only narrows: what the viewer does not see is not in it. */
export const sourceSchema = z.strictObject({
  table: ref,
  filter: conditionSchema.nullable(),
  sort: z.array(z.strictObject({ field: ref, descending: z.boolean() })).max(3),
});
export type Source = z.infer<typeof sourceSchema>;
/** All records of a table unless they are narrowed, in the table's own order unless one is given. */
export const sourceOf = (table: string, filter: Condition | null = null, sort: Source["sort"] = []): Source => ({ table, filter, sort });

/** Where a section stands, as far as its settings are judged. */
export interface Around {
  /** The table whose record the page is about. */
  readonly about: Table | null;
  readonly schema: Schema;
  readonly acts: ReadonlyMap<string, { readonly table: string; readonly on: "add" | "change" | "talk" | "accept" }>;
  readonly pages: ReadonlySet<string>;
}

/** The one table whose records a section is made of. */
export interface Reads {
  readonly table: string;
  /** What a reader must be able to do there for the section to show anything. */
  readonly doing: "see" | "add";
  /** Whether a page exists for this table: the menu leaves the page out when the reader may do nothing there. */
  readonly standsFor: boolean;
}

export interface SectionKind<K extends string, C extends z.ZodRawShape> {
  readonly kind: K;
  /** What it is called where one is chosen, and what it is for. */
  readonly name: string;
  readonly what: string;
  readonly config: C;
  /** Only on pages about a record. */
  readonly ofRecord?: true;
  /** Null of a kind that follows from who looks, or from the page's record. */
  reads(config: z.infer<z.ZodObject<C>>): Reads | null;
  /** What it shows goes by parameters of the page's address: search, order, page. */
  readonly asks: boolean;
  /** Whether the section shows the page's heading when it stands first. */
  readonly heads: boolean;
  /** What would make it show nothing, each as a sentence. */
  problems(config: z.infer<z.ZodObject<C>>, around: Around): string[];
}

/** For kinds of section that show no single table. */
export const readsNone = (): null => null;

/** What a source cannot be read by, each as a sentence. */
export const sourceProblems = (s: Source, schema: Schema): string[] => {
  const table = schema.findTable(s.table);
  if (!table) return ["Its table is gone."];
  return [
    ...conditionProblems(s.filter, table.id, schema),
    ...fieldsGone(
      s.sort.map((x) => x.field),
      table,
    ),
  ];
};

export function fieldsGone(ids: readonly (string | null)[], table: Table): string[] {
  const gone = ids.filter((id) => id !== null && !table.fields.some((f) => f.id === id)).length;
  return gone === 0
    ? []
    : [gone === 1 ? `It names a field that ${table.name} no longer has.` : `It names ${gone} fields that ${table.name} no longer has.`];
}

/** Of a field that must be of a sort: by which one can group, of which there is a sum. */
export function unfit(
  field: string | null,
  table: Table | undefined,
  fits: (type: Table["fields"][number]) => boolean,
  should: string,
): string[] {
  const f = table?.fields.find((x) => x.id === field);
  return f && !fits(f) ? [`${f.name} ${should}`] : [];
}
