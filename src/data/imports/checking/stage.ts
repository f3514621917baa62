/** The file of an import's own, in which rows that were read are set aside: those to be brought in, and those that are refused. */
import { existsSync } from "node:fs";
import type Sqlite from "better-sqlite3";
import { type ImportPlan, type RowProblem, WHOLE_ROW } from "@/core/exchange/import-plan";
import { newId } from "../../file/ids";
import Database from "../../file/sqlite";
import { importPath } from "../reading/paths";
import type { StagedColumn } from "../reading/planned";
import type { Cell } from "./cells";
import { STATE, type Tally } from "./held";
import type { Added, ReadRow, RefusedRow } from "./rows-read";

/** Stored with the import for the page; all of them, with their cells, are in the staging file for the download. */
const SHOWN_PROBLEMS = 200;
const TOGETHER = 25;

export const stagedNames = (columns: readonly StagedColumn[]): string[] =>
  columns.flatMap((c) => (c.folded ? [`c${c.at}`, `c${c.at}_k`] : [`c${c.at}`]));

/** Rows that wait to be written together: one statement for many costs a third less. */
class Together {
  readonly #one: Sqlite.Statement;
  readonly #many: Sqlite.Statement;
  readonly width: number;
  /** As long as so many rows are, and filled anew. */
  readonly #waiting: unknown[];
  #n = 0;

  constructor(
    db: Sqlite.Database,
    into: string,
    /** What stands in each place of a row: a literal, or "?" for what is put there. */
    row: readonly string[],
  ) {
    this.width = row.filter((x) => x === "?").length;
    const places = `(${row.join(", ")})`;
    this.#one = db.prepare(`INSERT INTO ${into} VALUES ${places}`);
    this.#many = db.prepare(`INSERT INTO ${into} VALUES ${Array.from({ length: TOGETHER }, () => places).join(", ")}`);
    this.#waiting = Array.from({ length: TOGETHER * this.width }, () => null);
  }

  /** A row: what it is, and its cells. */
  put(about: readonly unknown[], cells: readonly Cell[]): void {
    for (let i = 0; i < about.length; i++) this.#waiting[this.#n++] = about[i];
    for (let i = 0; i < cells.length; i++) this.#waiting[this.#n++] = cells[i];
    if (this.#n < this.#waiting.length) return;
    this.#many.run(this.#waiting);
    this.#n = 0;
  }

  write(): void {
    for (let at = 0; at < this.#n; at += this.width) this.#one.run(this.#waiting.slice(at, at + this.width));
    this.#n = 0;
  }
}

/** The file of rows that are set aside. */
export class Stage {
  readonly #db: Sqlite.Database;
  readonly #rows: Together;
  /** Rows that say what is there already: they write nothing. */
  readonly #same: Together;
  readonly #bad: Sqlite.Statement;
  /** Records whose rows are refused: the file does not lack them. */
  readonly #met: Sqlite.Statement;
  readonly #merge: Sqlite.Statement;
  /** Which row is of a record that is there, and which has the key of none; and the line of each row. */
  readonly #ofRecord: number[] = [];
  readonly #ofKey = new Map<string, number>();
  readonly #lines: number[] = [0];
  readonly #told: { fresh: number; changed: number; same: number; columns: number[] };
  /** Rows that are still to be told apart. */
  #open = false;
  readonly problems: RowProblem[] = [];
  #n = 0;
  good = 0;
  bad = 0;
  merged = 0;

  constructor(
    id: string,
    columns: readonly StagedColumn[],
    private readonly duplicates: ImportPlan["duplicates"],
  ) {
    this.#told = { fresh: 0, changed: 0, same: 0, columns: columns.map(() => 0) };
    this.#db = new Database(importPath(id, "stage"));
    this.#db.pragma("journal_mode = OFF");
    this.#db.pragma("synchronous = OFF");
    const names = stagedNames(columns);
    this.#db.exec(`CREATE TABLE rows (n INTEGER PRIMARY KEY, id TEXT NOT NULL, known INTEGER, state INTEGER NOT NULL, role TEXT${names.map((c) => `, ${c}`).join("")});
      CREATE TABLE bad (line INTEGER, field TEXT, reason TEXT, cells TEXT);
      CREATE TABLE adds (mark TEXT PRIMARY KEY, at INTEGER, target TEXT, name TEXT, company TEXT, id TEXT);
      CREATE TABLE met (known INTEGER PRIMARY KEY);
      CREATE TABLE changed (at INTEGER)`);
    this.#rows = new Together(
      this.#db,
      "rows",
      Array.from({ length: names.length + 5 }, () => "?"),
    );
    this.#same = new Together(this.#db, "rows (n, id, known, state)", ["?", "''", "?", String(STATE.same)]);
    this.#bad = this.#db.prepare("INSERT INTO bad VALUES (?, ?, ?, ?)");
    this.#met = this.#db.prepare("INSERT OR IGNORE INTO met VALUES (?)");
    const over = names.map((c) => `${c} = coalesce(?, ${c}), `).join("");
    this.#merge = this.#db.prepare(
      `UPDATE rows SET ${over}state = CASE WHEN known IS NULL THEN ${STATE.fresh} ELSE ${STATE.open} END WHERE n = ?`,
    );
  }

  get seen(): number {
    return this.good + this.bad + this.merged;
  }

  begin = (): unknown => this.#db.exec("BEGIN");
  commit(): void {
    this.#write();
    this.#db.exec("COMMIT");
  }

  #write(): void {
    this.#rows.write();
    this.#same.write();
  }

  /** Whether it comes in, alone or over an earlier one. */
  put(row: RefusedRow | ReadRow, cells: readonly string[]): boolean {
    if (!("cells" in row)) {
      this.#refuse(row.problems, row.met, cells);
      return false;
    }
    const { known } = row;
    const earlier = known ? this.#ofRecord[known.held] : row.key === null ? undefined : this.#ofKey.get(row.key);
    if (earlier && this.duplicates === "refuse") {
      const reason = `Line ${this.#lines[earlier]} has the same key.`;
      this.#refuse([{ line: row.line, column: WHOLE_ROW, reason }], [], cells);
      return false;
    }
    if (earlier) {
      this.#write();
      this.#merge.run(...row.cells, earlier);
      this.#open ||= known !== null;
      this.merged++;
      return true;
    }
    this.#n++;
    this.#lines.push(row.line);
    if (known) this.#ofRecord[known.held] = this.#n;
    else if (row.key !== null) this.#ofKey.set(row.key, this.#n);
    const state = this.#tell(row);
    // Where a later row may be put over this one, its cells are needed still.
    if (known && state === STATE.same && this.duplicates === "refuse") this.#same.put([this.#n, known.rowid], []);
    else this.#rows.put([this.#n, known?.id ?? newId(), known?.rowid ?? null, state, row.role], row.cells);
    this.good++;
    return true;
  }

  /** Its state, as far as it can be told. */
  #tell({ known, differs }: ReadRow): number {
    const told = this.#told;
    if (!known) {
      told.fresh++;
      return STATE.fresh;
    }
    if (!differs) {
      this.#open = true;
      return STATE.open;
    }
    for (const at of differs) told.columns[at]!++;
    if (differs.length === 0) told.same++;
    else told.changed++;
    return differs.length === 0 ? STATE.same : STATE.changed;
  }

  /** Null where some are still to be told apart. */
  get told(): Tally | null {
    return this.#open ? null : this.#told;
  }

  #refuse(problems: readonly RowProblem[], met: readonly number[], cells: readonly string[]): void {
    this.bad++;
    for (const rowid of met) this.#met.run(rowid);
    // Whoever mends the row finds all of it in one place.
    const [first] = problems;
    const of = [...new Set(problems.map((p) => p.column))].join(", ");
    const reasons = problems.length === 1 ? first!.reason : problems.map((p) => `${p.column}: ${p.reason}`).join(" ");
    this.#bad.run(first!.line, of, reasons, JSON.stringify(cells));
    for (const p of problems) if (this.problems.length < SHOWN_PROBLEMS) this.problems.push(p);
  }

  add(adds: readonly [string, Added][]): void {
    const put = this.#db.prepare("INSERT INTO adds VALUES (?, ?, ?, ?, ?, ?)");
    this.begin();
    for (const [mark, a] of adds) put.run(mark, a.at, a.table, a.name, a.company, newId());
    this.commit();
  }

  close(): void {
    if (this.#db.inTransaction) this.#db.exec("ROLLBACK");
    this.#db.close();
  }
}

export interface BadRow extends RowProblem {
  readonly cells: readonly string[];
}

/** Every refused row with the cells it had, so that it can be mended and dropped again. Nothing where the import is given up. */
export function* badRows(id: string): Generator<BadRow> {
  if (!existsSync(importPath(id, "stage"))) return;
  const stage = new Database(importPath(id, "stage"), { readonly: true });
  try {
    for (const r of stage.prepare("SELECT line, field, reason, cells FROM bad ORDER BY line").iterate() as Iterable<{
      line: number;
      field: string;
      reason: string;
      cells: string;
    }>) {
      yield { line: r.line, column: r.field, reason: r.reason, cells: JSON.parse(r.cells) as string[] };
    }
  } finally {
    stage.close();
  }
}
