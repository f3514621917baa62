/** What becomes of a row of a file as it is read, and what it asks for beside itself. */
import type { RowProblem } from "@/core/exchange/import-plan";
import type { Cell } from "./cells";
import type { Held } from "./held";

export interface ReadRow {
  readonly line: number;
  readonly cells: Cell[];
  /** The record that is there already, and its row in the file of the database; or null. */
  readonly known: { readonly id: string; readonly rowid: number; readonly held: Held } | null;
  /** Places of the columns that say otherwise than the record; null where that is to be found out, or there is none. */
  readonly differs: readonly number[] | null;
  /** The folded key, for rows of the file that have the same. */
  readonly key: string | null;
  /** Role ids of people, where a column says. */
  readonly role: string | null;
}
export interface RefusedRow {
  readonly line: number;
  readonly problems: readonly RowProblem[];
  /** Rows in the file of the database whose key it has: refused or not, the file does not lack them. */
  readonly met: readonly number[];
}
/** A record that a relation names and that is to be made; or a choice. */
export interface Added {
  readonly at: number;
  /** Null of a choice. */
  readonly table: string | null;
  readonly name: string;
  /** Whose it is to be: an id, or the mark of a company that is to be made itself. */
  readonly company: string | null;
}
export interface Unmatched {
  readonly at: number;
  readonly text: string;
  rows: number;
}
