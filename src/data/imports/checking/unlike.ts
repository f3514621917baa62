/** Values of a file that no two records may share: beside those of records that are there, and beside each other. */

import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../../file/open";
import { comparedColumn } from "../../records/write/unique";
import { isFolded } from "../../tables/physical";
import { placesOf, type StagedColumn } from "../reading/planned";
import type { Cell } from "./cells";

interface Taken {
  readonly column: StagedColumn;
  readonly reason: string;
}

export class UnlikeValues {
  readonly #fields: { readonly column: StagedColumn; readonly place: number; readonly held: Map<string, string> }[];

  /** `key` aside: what the key itself says twice is the business of the key. `scoped`: values are unlike each other within a company. */
  constructor(
    file: PortalFile,
    columns: readonly StagedColumn[],
    key: StagedColumn | undefined,
    private readonly scoped: boolean,
  ) {
    const places = placesOf(columns);
    this.#fields = columns.flatMap((column, i) =>
      column !== key && (column.field.options.unique || column.field.id === NAME)
        ? [{ column, place: places[i]!, held: heldOf(file, column, scoped) }]
        : [],
    );
  }

  /**
   * Values of a staged row that another record has already, in fields that must be unique. Rows of the same record share `self` and do not
   * stand in each other's way. `keep` notes this row's values, for the rows after it.
   */
  taken(out: readonly Cell[], self: string, company: string | null | undefined, keep: boolean): Taken[] {
    const found: Taken[] = [];
    const noted: [Map<string, string>, string][] = [];
    for (const { column, place, held } of this.#fields) {
      const cell = out[place] ?? null;
      if (cell === null) continue;
      const key = within(column, this.scoped, company ?? null, column.folded ? fold(String(cell)) : cell);
      const by = held.get(key);
      if (by !== undefined && by !== self) {
        const text = String(cell);
        const shown = text.length > 60 ? `${text.slice(0, 60)}…` : text;
        found.push({ column, reason: `“${shown}” must be unlike every other, and it is taken.` });
      } else noted.push([held, key]);
    }
    if (keep && found.length === 0) for (const [held, key] of noted) held.set(key, self);
    return found;
  }
}

const NAME = "f_company_name";
const within = ({ field }: StagedColumn, scoped: boolean, company: string | null, value: string | number): string =>
  `${scoped && field.id !== NAME ? (company ?? "") : ""}\u0000${value}`;

/** Which record has which value of a field that no two share. */
function heldOf(file: PortalFile, column: StagedColumn, scoped: boolean): Map<string, string> {
  const { field, fresh } = column;
  if (fresh) return new Map();
  const compared = isFolded(field) ? comparedColumn(field) : field.id;
  const rows = file.db
    .prepare(`SELECT id, company_id, ${sqlName(compared)} FROM ${sqlName(field.tableId)} WHERE ${sqlName(compared)} IS NOT NULL`)
    .raw()
    .all() as [string, string | null, string | number][];
  return new Map(rows.map(([id, company, v]) => [within(column, scoped, company, v), id]));
}
