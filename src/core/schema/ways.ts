/** Ways from a table to the companies that could own its records. */
import { pointsToOne } from "./fields/natures";
import type { Schema, Table } from "./types";

/** Longer ways than this are not offered for a wall. */
const MOST_HOPS = 4;

/** Every way of to-one relations, as field ids, the shortest first; people lead to companies through their memberships. */
export function waysToCompanies(schema: Schema, table: Table): string[][] {
  if (table.kind === "companies") return [[]];
  if (table.kind === "people") return [["f_person_companies"]];
  const ways: string[][] = [];
  const walk = (at: Table, path: string[]): void => {
    if (path.length >= MOST_HOPS) return;
    for (const f of at.fields.filter((x) => pointsToOne(x))) {
      if (f.options.target === schema.companies.id) ways.push([...path, f.id]);
      else if (!path.includes(f.id) && f.options.target !== schema.people.id) walk(schema.table(f.options.target), [...path, f.id]);
    }
  };
  walk(table, []);
  return ways.sort((a, b) => a.length - b.length);
}
