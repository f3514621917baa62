/**
 * Checks every row against the plan and sets the good ones aside in a file of their own. The portal's file is not touched
 * until all is decided; then one transaction brings everything in (see `commit.ts`). Killed half way, nothing has happened.
 */

import { existsSync, rmSync } from "node:fs";
import { setImmediate as breathe } from "node:timers/promises";
import { type CsvRecord, isBlank } from "@/core/exchange/csv";
import type { ImportPlan, RowProblem } from "@/core/exchange/import-plan";
import { type Field, kindOf, type Schema } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import Database from "../file/sqlite";
import { storedValue } from "../records/write/store";
import { schemaOf } from "../schema/read";
import { type Analysis, importPath, readRecords } from "./receive";

export interface StagedColumn {
  /** Index in the file. */
  readonly at: number;
  readonly field: Field;
  readonly order: "iso" | "day-first" | "month-first";
  readonly folded: boolean;
}

export interface CheckResult {
  readonly good: number;
  readonly bad: number;
  readonly problems: readonly RowProblem[];
  readonly newCompanies: readonly string[];
}

type Cell = string | number | null;
/** Stored with the import for the page; all of them, with their cells, are in the staging file for the download. */
const SHOWN_PROBLEMS = 200;

/** Fields that the plan's columns will have; those that are still to be made get a provisional id. */
export function plannedColumns(plan: ImportPlan, schema: Schema): StagedColumn[] {
  return plan.columns.flatMap((c, at): StagedColumn[] => {
    if (c.to === "skip") return [];
    if (c.to === "field") {
      const field = schema.field(c.field);
      return [{ at, field, order: c.order, folded: kindOf(field).folds }];
    }
    const type = plan.companyColumn === at ? "relation" : c.type;
    const target = plan.companyColumn === at ? schema.companies.id : c.target;
    // Choices that are still to be made are their own ids; they get lasting ones with the field.
    const choices = (c.choices ?? []).map((name) => ({ id: name, name }));
    const options = kindOf({ type }).options({
      ...(target === undefined ? {} : { target }),
      ...(c.decimals === undefined ? {} : { decimals: c.decimals }),
      choices,
      currency: plan.currency,
    });
    return [
      {
        at,
        order: c.order,
        folded: kindOf({ type }).folds,
        field: { id: `new_${at}`, tableId: "", slug: "", name: c.name, type, options, system: false } as Field,
      },
    ];
  });
}

type Lookup = (text: string) => string | null | "many";

/** Related records by the name that people write, or by id. */
function lookups(file: PortalFile, schema: Schema, columns: readonly StagedColumn[]): Map<number, Lookup> {
  const found = new Map<number, Lookup>();
  for (const c of columns) {
    if (c.field.type !== "relation") continue;
    const target = schema.table(c.field.options.target);
    const rows = file.db.prepare(`SELECT id, "${target.labelFieldId}" FROM "${target.id}"`).raw().all() as [string, string | null][];
    const byName = new Map<string, string | "many">();
    for (const [id, name] of rows) {
      if (name === null) continue;
      const key = fold(String(name));
      byName.set(key, byName.has(key) ? "many" : id);
    }
    const ids = new Set(rows.map((r) => r[0]));
    found.set(c.at, (text) => (ids.has(text) ? text : (byName.get(fold(text.normalize("NFC").trim())) ?? null)));
  }
  return found;
}

interface ToCheck {
  readonly file: PortalFile;
  readonly id: string;
  readonly analysis: Analysis;
  readonly plan: ImportPlan;
}

export async function checkImport({ file, id, analysis, plan }: ToCheck, progress: (done: number) => void): Promise<CheckResult> {
  const schema = schemaOf(file);
  const columns = plannedColumns(plan, schema);
  const reader = new RowReader(columns, lookups(file, schema, columns), plan, analysis.header);
  rmSync(importPath(id, "stage"), { force: true });
  const stage = new Database(importPath(id, "stage"));
  try {
    stage.pragma("journal_mode = OFF");
    stage.pragma("synchronous = OFF");
    const names = columns.flatMap((c) => (c.folded ? [`c${c.at}`, `c${c.at}_k`] : [`c${c.at}`]));
    stage.exec(`CREATE TABLE rows (id TEXT, ${names.join(", ")})`);
    const insert = stage.prepare(`INSERT INTO rows VALUES (?, ${names.map(() => "?").join(", ")})`);
    stage.exec("CREATE TABLE bad (line INTEGER, field TEXT, reason TEXT, cells TEXT)");
    const insertBad = stage.prepare("INSERT INTO bad VALUES (?, ?, ?, ?)");
    const problems: RowProblem[] = [];
    let good = 0;
    let bad = 0;
    let header = true;
    for await (const records of readRecords(id, analysis)) {
      stage.exec("BEGIN");
      for (const record of records) {
        if (isBlank(record)) continue;
        if (header) {
          header = false;
          continue;
        }
        const row = reader.read(record);
        if (Array.isArray(row)) {
          insert.run(newId(), ...row);
          good++;
        } else {
          bad++;
          insertBad.run(row.line, row.column, row.reason, JSON.stringify(record.cells));
          if (problems.length < SHOWN_PROBLEMS) problems.push(row);
        }
      }
      stage.exec("COMMIT");
      reached("import: a piece is set aside");
      progress(good + bad);
      await breathe();
    }
    return { good, bad, problems, newCompanies: [...reader.companies.values()] };
  } finally {
    stage.close();
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

class RowReader {
  /** Companies that are not there yet, by folded name. */
  readonly companies = new Map<string, string>();

  constructor(
    private readonly columns: readonly StagedColumn[],
    private readonly finders: Map<number, Lookup>,
    private readonly plan: ImportPlan,
    private readonly header: readonly string[],
  ) {}

  /** The row's stored cells, or the first thing that is wrong with it. */
  read({ cells, line, cut }: CsvRecord): RowProblem | Cell[] {
    if (cut)
      return {
        line,
        column: "the whole row",
        reason: "It is far too long, or a quotation mark in it is never closed. Only its beginning was read.",
      };
    if (cells.length !== this.header.length) {
      return {
        line,
        column: "the whole row",
        reason: `It has ${cells.length} ${cells.length === 1 ? "cell" : "cells"} where the first line has ${this.header.length}.`,
      };
    }
    const out: Cell[] = [];
    for (const c of this.columns) {
      const cell = this.#cell(c, cells[c.at]!);
      if (typeof cell === "object" && cell !== null) return { line, column: this.header[c.at]!, reason: cell.reason };
      out.push(cell);
      if (c.folded) out.push(cell === null ? null : fold(String(cell)));
    }
    return out;
  }

  #cell(c: StagedColumn, text: string): Cell | { reason: string } {
    const read = kindOf(c.field).parse([text], c.field, c.order);
    if (!read.ok) return { reason: read.error };
    const names = this.plan.companyColumn === c.at;
    if (read.value === null)
      return names
        ? { reason: "It names no company." }
        : c.field.options.required
          ? { reason: "It is empty, and this field is needed." }
          : null;
    if (c.field.type !== "relation") return storedValue(read.value);
    const name = String(read.value);
    const found = this.finders.get(c.at)!(name);
    if (found === "many") return { reason: `There is more than one “${name.slice(0, 60)}”, so it is not clear which is meant.` };
    if (found !== null) return found;
    if (!names || !this.plan.addCompanies) return { reason: `There is no “${name.slice(0, 60)}” to point to.` };
    if (name.length > 120) return { reason: "A company's name is at most 120 characters long." };
    const key = fold(name.normalize("NFC"));
    if (!this.companies.has(key)) this.companies.set(key, name);
    return `new:${key}`;
  }
}
