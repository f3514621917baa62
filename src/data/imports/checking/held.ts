/** The records that a table has already, as an import meets them: by their key, and with what they hold of its columns. */

import type { ImportPlan } from "@/core/exchange/import-plan";
import type { Table } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../../file/open";
import { comparedColumn } from "../../records/write/unique";
import { hasColumn } from "../../tables/physical";
import { placesOf, type StagedColumn } from "../reading/planned";
import type { Cell } from "./cells";

/** What a row of the file is to its record. `open` until all rows are set aside: SQL tells those apart. */
export const STATE = { open: -1, fresh: 0, changed: 1, same: 2 } as const;

/** A record that is there: its place among those that are held. */
export type Held = number;

/** What is held in memory to be compared as the rows are read; larger tables are compared in SQL afterwards. */
export const MOST_HELD = { cells: 3_000_000, bytes: 64 * 1024 * 1024 };
/** Records that are read together. */
const PIECE = 10_000;
type Piece = readonly Cell[][];
/** Before the cells: row, id, key. */
const OWN = 3;
const KEY = 2;
const NONE: readonly Held[] = [];
const NOTHING: readonly number[] = [];

/** How many rows of an import are new, changed and the same. */
export interface Tally {
  readonly fresh: number;
  readonly changed: number;
  readonly same: number;
  /** How many rows change each column. */
  readonly columns: readonly number[];
}

export class HeldRecords {
  /** Records by key; several that share a key are a list. */
  readonly #byKey = new Map<string, Held | Held[]>();
  /** Pieces with a list for each column, since a hundred thousand lists of a record each would take twice the time to read. */
  readonly #pieces: readonly Piece[];
  readonly #company: number;
  /** Where each column's cell stands in a row that was read, and its list (-1 of a field that is still to be made). Null: not compared here. */
  readonly #pairs: readonly (readonly [cell: number, list: number])[] | null;

  constructor(
    file: PortalFile,
    table: Table,
    key: StagedColumn,
    columns: readonly StagedColumn[],
    private readonly empties: ImportPlan["empties"],
    scoped: boolean,
  ) {
    const known = columns.filter((c) => !c.fresh);
    const compared = known.every((c) => hasColumn(c.field)) && isHeldEasily(file, table, known);
    this.#pairs = compared ? pairsOf(columns, known) : null;
    const by = comparedColumn(key.field);
    const wanted = ["rowid", "id", by, ...(compared ? known.map((c) => c.field.id) : []), ...(scoped ? ["company_id"] : [])];
    this.#company = wanted.indexOf("company_id");
    this.#pieces = readPieces(file, table.id, wanted);
    for (const [n, piece] of this.#pieces.entries()) for (const [i, k] of piece[KEY]!.entries()) this.#note(k, n * PIECE + i);
  }

  #note(key: Cell, at: Held): void {
    if (key === null) return;
    const k = String(key);
    const there = this.#byKey.get(k);
    if (there === undefined) this.#byKey.set(k, at);
    else if (typeof there === "number") this.#byKey.set(k, [there, at]);
    else there.push(at);
  }

  of(key: string): readonly Held[] {
    const there = this.#byKey.get(key);
    return there === undefined ? NONE : typeof there === "number" ? [there] : there;
  }
  #cell = (at: Held, list: number): Cell => this.#pieces[Math.floor(at / PIECE)]![list]![at % PIECE]!;
  rowid = (at: Held): number => this.#cell(at, 0) as number;
  id = (at: Held): string => this.#cell(at, 1) as string;
  /** Whose a record is. Only for tables in which two companies may use the same key. */
  company = (at: Held): string | null => this.#cell(at, this.#company) as string | null;

  /** Places of the columns that say otherwise than the record, as `differsSql` has it; null where they are not compared here. */
  differing(at: Held, cells: readonly Cell[]): readonly number[] | null {
    if (!this.#pairs) return null;
    let found: number[] | null = null;
    for (let i = 0; i < this.#pairs.length; i++) {
      const [place, list] = this.#pairs[i]!;
      const cell = cells[place]!;
      if (cell === null && (list === -1 || this.empties === "leave")) continue;
      if (list === -1 || cell !== this.#cell(at, list)) (found ??= []).push(i);
    }
    return found ?? NOTHING;
  }
}

function isHeldEasily({ db }: PortalFile, table: Table, known: readonly StagedColumn[]): boolean {
  // SQLite tells the bytes of a long text without reading the text itself.
  const bytes = known.map((c) => `coalesce(sum(octet_length(${sqlName(c.field.id)})), 0)`).join(" + ");
  const [records, held] = db
    .prepare(`SELECT count(*), ${bytes} FROM ${sqlName(table.id)}`)
    .raw()
    .get() as [number, number];
  return records * known.length <= MOST_HELD.cells && held <= MOST_HELD.bytes;
}

/** SQLite writes each piece of a column as JSON: asked for cell by cell it takes twice the time. */
function readPieces({ db }: PortalFile, table: string, columns: readonly string[]): Piece[] {
  const next = db
    .prepare(
      `SELECT ${columns.map((_, i) => `json_group_array(x${i})`).join(", ")} FROM
        (SELECT ${columns.map((c, i) => `${sqlName(c)} AS x${i}`).join(", ")} FROM ${sqlName(table)} WHERE rowid > ? ORDER BY rowid LIMIT ${PIECE})`,
    )
    .raw();
  const pieces: Piece[] = [];
  for (let after = 0; ; ) {
    const piece = (next.get(after) as string[]).map((text) => JSON.parse(text) as Cell[]);
    pieces.push(piece);
    const rows = piece[0]!;
    if (rows.length < PIECE) return pieces;
    after = rows.at(-1) as number;
  }
}

function pairsOf(columns: readonly StagedColumn[], known: readonly StagedColumn[]): [number, number][] {
  const places = placesOf(columns);
  return columns.map((c, i) => [places[i]!, c.fresh ? -1 : OWN + known.indexOf(c)]);
}
