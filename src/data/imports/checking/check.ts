/**
 * Checks every row against the plan and sets the good ones aside in a file of their own, told apart as new, changed and same. The portal's
 * file is not touched until all is decided; then one transaction brings everything in (see `commit.ts`). Killed half way, nothing has
 * happened.
 */

import { rmSync } from "node:fs";
import { setImmediate as breathe } from "node:timers/promises";
import { isBlank } from "@/core/exchange/csv";
import type { ImportPlan, RowProblem } from "@/core/exchange/import-plan";
import { type Named, nearest } from "@/core/exchange/nearest";
import { published } from "../../definition/published";
import type { PortalFile } from "../../file/open";
import { reached } from "../../file/points";
import { fileColumns, type Prepared } from "../reading/beside";
import { importPath } from "../reading/paths";
import type { StagedColumn } from "../reading/planned";
import { type Analysis, readRecords } from "../reading/receive";
import { RowReader } from "./row-reader";
import { Stage } from "./stage";
import { type Comparison, compareStaged } from "./what-differs";

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

const SHOWN_MISSED = 60;
const SHOWN_NAMES = 12;

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
        else {
          const row = reader.read(record);
          if (stage.put(row, record.cells) && "cells" in row) reader.keep(row);
        }
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
