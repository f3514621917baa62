/**
 * Checks every row against the plan and sets the good ones aside in a file of their own, told apart as new, changed and same. The portal's
 * file is not touched until all is decided; then one transaction brings everything in (see `commit.ts`). Killed half way, nothing has
 * happened.
 */

import { existsSync, rmSync } from "node:fs";
import { setImmediate as breathe } from "node:timers/promises";
import type Sqlite from "better-sqlite3";
import { isBlank } from "@/core/exchange/csv";
import type { ImportPlan, RowProblem } from "@/core/exchange/import-plan";
import { type Named, nearest } from "@/core/exchange/nearest";
import { published } from "../definition/published";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import Database from "../file/sqlite";
import { fileColumns, type Prepared } from "./beside";
import { type Comparison, compareStaged } from "./compare";
import { importPath } from "./paths";
import type { StagedColumn } from "./planned";
import { type Analysis, readRecords } from "./receive";
import { type Added, type ReadRow, RowReader } from "./row-reader";

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
    const { good, bad, merged, problems } = stage;
    stage.close();
    const compared = compareStaged(file, id, plan, reader.grown());
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

/** The file of rows that are set aside. */
class Stage {
  readonly #db: Sqlite.Database;
  readonly #insert: Sqlite.Statement;
  readonly #insertMany: Sqlite.Statement;
  /** Rows that wait to be written together: one statement for many costs a third less. */
  #waiting: unknown[] = [];
  readonly #bad: Sqlite.Statement;
  readonly #merge: Sqlite.Statement;
  readonly #earlier: Sqlite.Statement;
  /** Which row of the file has a key: its number and line. */
  readonly #keys = new Map<string, { n: number; line: number }>();
  readonly #width: number;
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
    this.#db = new Database(importPath(id, "stage"));
    this.#db.pragma("journal_mode = OFF");
    this.#db.pragma("synchronous = OFF");
    const names = stagedNames(columns);
    // 0 is new, 1 changed, 2 same: told apart when all rows are there.
    this.#db.exec(`CREATE TABLE rows (n INTEGER PRIMARY KEY, id TEXT NOT NULL, known INTEGER, state INTEGER NOT NULL, role TEXT, ${names.join(", ")});
      CREATE TABLE bad (line INTEGER, field TEXT, reason TEXT, cells TEXT);
      CREATE TABLE adds (mark TEXT PRIMARY KEY, at INTEGER, target TEXT, name TEXT, company TEXT, id TEXT)`);
    const places = `(?, ?, ?, 0, ?, ${names.map(() => "?").join(", ")})`.replace(", )", ")");
    this.#insert = this.#db.prepare(`INSERT INTO rows VALUES ${places}`);
    this.#insertMany = this.#db.prepare(`INSERT INTO rows VALUES ${Array.from({ length: TOGETHER }, () => places).join(", ")}`);
    this.#width = names.length + 4;
    this.#bad = this.#db.prepare("INSERT INTO bad VALUES (?, ?, ?, ?)");
    this.#merge = this.#db.prepare(`UPDATE rows SET ${names.map((c) => `${c} = coalesce(?, ${c})`).join(", ")} WHERE n = ?`);
    this.#earlier = this.#db.prepare("SELECT 1 FROM rows WHERE n = ?");
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
    const [all, width] = [this.#waiting, this.#width];
    let at = 0;
    for (; at + TOGETHER * width <= all.length; at += TOGETHER * width) this.#insertMany.run(...all.slice(at, at + TOGETHER * width));
    for (; at < all.length; at += width) this.#insert.run(...all.slice(at, at + width));
    this.#waiting = [];
  }

  put(row: RowProblem | ReadRow, cells: readonly string[]): void {
    if (!("cells" in row)) {
      this.#refuse(row, cells);
      return;
    }
    const earlier = row.key === null ? undefined : this.#keys.get(row.key);
    if (earlier) this.#write();
    if (earlier && this.#earlier.get(earlier.n)) {
      if (this.duplicates === "refuse") {
        this.#refuse({ line: row.line, column: "the whole row", reason: `Line ${earlier.line} has the same key.` }, cells);
        return;
      }
      this.#merge.run(...row.cells, earlier.n);
      this.merged++;
      return;
    }
    this.#n++;
    if (row.key !== null) this.#keys.set(row.key, { n: this.#n, line: row.line });
    this.#waiting.push(this.#n, row.known?.id ?? newId(), row.known?.rowid ?? null, row.role, ...row.cells);
    if (this.#waiting.length >= TOGETHER * this.#width) this.#write();
    this.good++;
  }

  #refuse(row: RowProblem, cells: readonly string[]): void {
    this.bad++;
    this.#bad.run(row.line, row.column, row.reason, JSON.stringify(cells));
    if (this.problems.length < SHOWN_PROBLEMS) this.problems.push(row);
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
