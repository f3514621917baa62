/** The records behind a figure or a part of a chart, as a list's address names them: `only=<section>~<which>`. */

import { fits } from "@/core/pages/audience";
import type { Section, SectionOf } from "@/core/pages/page";
import type { Condition } from "@/core/schema/condition";
import { isDay, isYesNo } from "@/core/schema/fields/natures";
import type { Field, Table } from "@/core/schema/types";
import { type Source, sourceProblems } from "@/core/sections/kind";
import type { PortalRequest } from "@/identity/requests/request";
import { allPagesFor, readerFor } from "./pages-for";

export interface Only {
  readonly text: string;
  readonly name: string;
  readonly condition: Condition;
}

const test = (field: string, operator: "is" | "at-least" | "less-than", value: string | boolean): Condition => ({
  kind: "test",
  path: [field],
  operator,
  operands: [{ kind: "literal", value }],
});

/** Records of one group of a chart; a group without a value is the records in which the reader reads none. */
export function inGroup(field: Field, key: string): Condition {
  if (key === "") return { kind: "test", path: [field.id], operator: "is-empty", operands: [] };
  if (isYesNo(field)) return test(field.id, "is", key === "1");
  if (isDay(field) && /^\d{4}-\d\d$/.test(key)) {
    const [y, m] = key.split("-").map(Number) as [number, number];
    const next = m === 12 ? `${y + 1}-01` : `${y}-${String(m + 1).padStart(2, "0")}`;
    return { kind: "all", of: [test(field.id, "at-least", `${key}-01`), test(field.id, "less-than", `${next}-01`)] };
  }
  return test(field.id, "is", key);
}

/** Null where the address names nothing that is on a page for this reader. */
export function onlyOf(r: PortalRequest, table: Table, text: string): Only | null {
  const [id = "", which = ""] = text.slice(0, 200).split("~");
  if (id === "") return null;
  const book = allPagesFor(r);
  for (const page of book.pages) {
    const section = book.sections(page.id).find((s) => s.id === id);
    if (section) return fits(page.audience, readerFor(r)) ? onlyIn(r, section, which, table, text) : null;
  }
  return null;
}

interface Pressed {
  readonly r: PortalRequest;
  /** Which figure, or which bar, was pressed. */
  readonly which: string;
  readonly table: Table;
  readonly text: string;
}

type Narrowing = { [K in Section["kind"]]?: (s: SectionOf<K>, p: Pressed) => Only | null };

/** What of a table's list a section leads to, of the kinds that lead to some. */
const NARROWING: Narrowing = {
  figures: (s, { r, which, table, text }) => {
    const item = s.config.items.find((x) => x.id === which);
    if (!item || !isOf(r, item.source, table)) return null;
    return item.source.filter ? { text, name: item.name, condition: item.source.filter } : null;
  },
  list: (s, { r, table, text }) => {
    const { source } = s.config;
    return isOf(r, source, table) && source.filter ? { text, name: s.title || table.name, condition: source.filter } : null;
  },
  chart: (s, { r, which, table, text }) => {
    const field = table.fields.find((f) => f.id === s.config.by);
    if (!isOf(r, s.config.source, table) || !field || !r.desk.knows(table, field)) return null;
    const of = [s.config.source.filter, inGroup(field, which)].filter((c) => c !== null);
    return { text, name: s.title || field.name, condition: { kind: "all", of } };
  },
};

const isOf = (r: PortalRequest, source: Source, table: Table): boolean =>
  source.table === table.id && sourceProblems(source, r.desk.schema).length === 0;

const onlyIn = (r: PortalRequest, s: Section, which: string, table: Table, text: string): Only | null =>
  (NARROWING[s.kind] as ((s: Section, p: Pressed) => Only | null) | undefined)?.(s, { r, which, table, text }) ?? null;
