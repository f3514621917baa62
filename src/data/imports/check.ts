/**
 * Checks every row against the plan and sets the good ones aside in a file of their own, told apart as new, changed and same. The portal's
 * file is not touched until all is decided; then one transaction brings everything in (see `commit.ts`). Killed half way, nothing has
 * happened.
 */

import { existsSync, rmSync } from "node:fs";
import { setImmediate as breathe } from "node:timers/promises";
import type Sqlite from "better-sqlite3";
import { isBlank } from "@/core/exchange/csv";
import { type ImportPlan, type RowProblem, WHOLE_ROW } from "@/core/exchange/import-plan";
import { type Named, nearest } from "@/core/exchange/nearest";
import { published } from "../definition/published";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import Database from "../file/sqlite";
import { fileColumns, type Prepared } from "./beside";
import type { Cell } from "./cells";
import { type Comparison, compareStaged } from "./compare";
import { STATE, type Tally } from "./held";
import { importPath } from "./paths";
import type { StagedColumn } from "./planned";
import { type Analysis, readRecords } from "./receive";
import { type Added, type ReadRow, type RefusedRow, RowReader } from "./row-reader";

/** A text that names no record, how often it stands there, and what is near to it. */
export interface Missed {
  readonly at: number;
  readonly column: string;
  /** Where nothing is called so: a table, or the choices of a field. */
  readonly of: string;
  readonly text: string;
  readonly rows: number;
  readonly nearest: readonly Named[];
  readonly canAdd: boolean;
}

export interface CheckResult extends Comparison {
  /** Rows to be brought in: new, changed and same. */
  readonly good: number;
  readonly bad: number;
  readonly blank: number;
  /** Rows put over an earlier one of the same key. */
  readonly merged: number;
  readonly problems: readonly RowProblem[];
  readonly missed: readonly Missed[];
  /** Names without a record beyond those that are listed. */
  readonly moreMissed: number;
  readonly adds: readonly { readonly of: string; readonly names: readonly string[]; readonly count: number }[];
}

/** Stored with the import for the page; all of them, with their cells, are in the staging file for the download. */
const SHOWN_PROBLEMS = 200;
const SHOWN_MISSED = 60;
const SHOWN_NAMES = 12;
const TOGETHER = 25;

interface ToCheck {
  readonly file: PortalFile;
  readonly id: string;
  readonly analysis: Analysis;
  readonly plan: ImportPlan;
  /** The way from an existing table to its companies, in the draft where that has one. */
  readonly way: readonly string[] | null;
  /** Those of the archive beside the table that the rows name; null where there is none. */
  readonly files: readonly Prepared[] | null;
}

export const stagedNames = (columns: readonly StagedColumn[]): string[] =>
  columns.flatMap((c) => (c.folded ? [`c${c.at}`, `c${c.at}_k`] : [`c${c.at}`]));

export async function checkImport(
  { file, id, analysis, plan, way, files }: ToCheck,
  progress: (done: number) => void,
): Promise<CheckResult> {
  const { definition, policy } = published(file);
  const wall = "id" in plan.table ? policy.wall(plan.table.id) : null;
  const reader = new RowReader({
    file,
    schema: policy.schema,
    plan,
    header: analysis.header,
    way,
    scoped: wall?.kind === "owned",
    timeZone: definition.portal.timeZone,
    roles: definition.roles,
    files,
  });
  rmSync(importPath(id, "stage"), { force: true });
  const stage = new Stage(id, reader.columns, plan.duplicates);
  try {
    let before = analysis.headerAt + 1;
    let blank = 0;
    for await (const records of readRecords(id, analysis)) {
      stage.begin();
      for (const record of records) {
        if (isBlank(record)) {
          if (before === 0) blank++;
        } else if (before > 0) before--;
        else stage.put(reader.read(record), record.cells);
      }
      stage.commit();
      reached("import: a piece is set aside");
      progress(stage.seen);
      await breathe();
    }
    stage.add([...reader.additions()]);
    const { good, bad, merged, problems, told } = stage;
    stage.close();
    const compared = compareStaged(file, id, plan, reader.grown(), told);
    return { ...compared, good, bad, blank, merged, problems, ...missedOf(reader, analysis), adds: addsOf(reader) };
  } finally {
    stage.close();
  }
}

/** What the cells say that name files, each once. */
export async function cellsThatNameFiles({ file, id, analysis, plan }: Omit<ToCheck, "way" | "files">): Promise<string[]> {
  const columns = fileColumns(plan, published(file).policy.schema);
  const found = new Set<string>();
  if (columns.length === 0) return [];
  for await (const records of readRecords(id, analysis))
    for (const { cells } of records) for (const at of columns) if (cells[at]) found.add(cells[at]);
  return [...found];
}

function missedOf(reader: RowReader, analysis: Analysis): Pick<CheckResult, "missed" | "moreMissed"> {
  const all = [...reader.unmatched.values()].sort((a, b) => b.rows - a.rows);
  const missed = all.slice(0, SHOWN_MISSED).map((m): Missed => {
    const column = reader.columns.find((c) => c.at === m.at)!;
    const canAdd = reader.canAdd(column);
    const near = nearest(m.text, (reader.lookups.get(m.at) ?? reader.choices.get(m.at)!).names);
    return {
      at: m.at,
      column: analysis.header[m.at]!,
      of: placeOf(reader, column),
      text: m.text.slice(0, 200),
      rows: m.rows,
      nearest: near,
      canAdd,
    };
  });
  return { missed, moreMissed: all.length - missed.length };
}

const placeOf = (reader: RowReader, c: StagedColumn): string => reader.lookups.get(c.at)?.table.name ?? `the choices of ${c.field.name}`;

function addsOf(reader: RowReader): CheckResult["adds"] {
  const byPlace = new Map<string, string[]>();
  for (const [, a] of reader.additions()) {
    const of = placeOf(reader, reader.columns.find((c) => c.at === a.at)!);
    byPlace.set(of, [...(byPlace.get(of) ?? []), a.name]);
  }
  return [...byPlace].map(([of, names]) => ({ of, names: names.slice(0, SHOWN_NAMES), count: names.length }));
}

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
class Stage {
  readonly #db: Sqlite.Database;
  readonly #rows: Together;
  /** Those that say what is there already: nothing will be written of them. */
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

  put(row: RefusedRow | ReadRow, cells: readonly string[]): void {
    if (!("cells" in row)) {
      this.#refuse(row.problems, row.met, cells);
      return;
    }
    const { known } = row;
    const earlier = known ? this.#ofRecord[known.held] : row.key === null ? undefined : this.#ofKey.get(row.key);
    if (earlier && this.duplicates === "refuse") {
      const reason = `Line ${this.#lines[earlier]} has the same key.`;
      this.#refuse([{ line: row.line, column: WHOLE_ROW, reason }], [], cells);
      return;
    }
    if (earlier) {
      this.#write();
      this.#merge.run(...row.cells, earlier);
      this.#open ||= known !== null;
      this.merged++;
      return;
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
