/**
 * The rows that were set aside beside the records that are there: which are new, which change what, and which records the file lacks. Most
 * were told apart as they were read (see `held.ts`).
 */

import type { ImportPlan } from "@/core/exchange/import-plan";
import { toWords } from "@/core/exchange/present";
import { holdsFiles, isRelation, pointsToSeveral } from "@/core/schema/fields/natures";
import type { SeenValue } from "@/core/schema/seen";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../../definition/published";
import type { PortalFile } from "../../file/open";
import { decodeValue, hasColumn, linkTableName } from "../../tables/physical";
import { schemaOf } from "../../tables/read";
import { fileName } from "../reading/beside";
import { importPath } from "../reading/paths";
import type { StagedColumn } from "../reading/planned";
import { STATE, type Tally } from "./held";

export interface ChangedField {
  readonly field: string;
  readonly name: string;
  readonly rows: number;
}
export interface ChangeExample {
  readonly name: string;
  readonly changes: readonly { readonly field: string; readonly before: string; readonly after: string }[];
}

export interface Comparison {
  readonly fresh: number;
  readonly changed: number;
  readonly same: number;
  readonly fields: readonly ChangedField[];
  readonly examples: readonly ChangeExample[];
  /** Records of the table that no row of the file is of; they are left as they are. */
  readonly lacking: { readonly count: number; readonly names: readonly string[] };
}

const EXAMPLES = 40;
const NAMES = 20;

/** What a record holds of a column, as it is staged. */
export function heldSql(c: StagedColumn, table: string): string {
  const { field } = c;
  if (hasColumn(field)) return `${table}.${sqlName(field.id)}`;
  const link =
    field.id === "f_person_companies"
      ? membershipsOf(table)
      : `SELECT target_id AS x FROM ${sqlName(linkTableName(field))} WHERE record_id = ${table}.id`;
  return `(SELECT CASE WHEN count(*) > 0 THEN json_group_array(x) END FROM (${link} ORDER BY x))`;
}
const membershipsOf = (table: string): string =>
  `SELECT company_id AS x FROM sys_memberships WHERE person_id = ${table}.id AND company_id IS NOT NULL`;

/** Whether a row says otherwise than the record. */
export function differsSql(c: StagedColumn, empties: ImportPlan["empties"]): string {
  const staged = `r.c${c.at}`;
  // A company that is named is added to a person's, and none is taken away.
  const differs =
    c.field.id === "f_person_companies"
      ? `EXISTS (SELECT 1 FROM json_each(${staged}) j WHERE j.value NOT IN (${membershipsOf("t")}))`
      : `${staged} IS NOT ${heldSql(c, "t")}`;
  return empties === "leave" ? `(${staged} IS NOT NULL AND ${differs})` : `(${differs})`;
}

export function withStage<T>(file: PortalFile, id: string, work: () => T): T {
  file.db.prepare("ATTACH DATABASE ? AS stage").run(importPath(id, "stage"));
  try {
    return work();
  } finally {
    file.db.exec("DETACH DATABASE stage");
  }
}

/** @param told What was told apart already; null where rows are still open. */
export function compareStaged(
  file: PortalFile,
  id: string,
  plan: ImportPlan,
  columns: readonly StagedColumn[],
  told: Tally | null,
): Comparison {
  return withStage(file, id, () => {
    const table = "id" in plan.table ? plan.table.id : null;
    const { fresh, changed, same, columns: counts } = told ?? tellApart(file, plan, table, columns);
    const counted = { fresh, changed, same };
    const nothing = { fields: [], examples: [], lacking: { count: 0, names: [] } };
    if (!table || plan.key === null) return { ...counted, ...nothing };
    const schema = schemaOf(file);
    const label = schema.table(table).labelFieldId;
    const differing = columns.map((c, i) => ({ c, rows: counts[i]! })).filter((x) => x.rows > 0);
    rememberChanged(
      file,
      differing.map((x) => x.c),
    );
    const fields = differing.map(({ c, rows }): ChangedField => ({ field: c.field.id, name: c.field.name, rows }));
    const { count, names } = lackingOf(file, table, label, changed + same);
    return { ...counted, fields, examples: examples(file, plan, table, columns), lacking: { count, names } };
  });
}

/** Records that no row is of; one whose row is refused is not among them. `met` are those of which a row is brought in. */
function lackingOf({ db }: PortalFile, table: string, label: string, met: number): Comparison["lacking"] {
  const refused = "SELECT known FROM stage.met WHERE known NOT IN (SELECT known FROM stage.rows WHERE known IS NOT NULL)";
  const [all, also] = [`SELECT count(*) FROM ${sqlName(table)}`, `SELECT count(*) FROM (${refused})`].map(
    (text) => db.prepare(text).pluck().get() as number,
  ) as [number, number];
  const count = all - met - also;
  if (count <= 0) return { count: 0, names: [] };
  const there = "SELECT known FROM stage.rows WHERE known IS NOT NULL UNION SELECT known FROM stage.met";
  const absent = `SELECT coalesce(t.${sqlName(label)}, '') FROM ${sqlName(table)} t WHERE t.rowid NOT IN (${there}) LIMIT ${NAMES}`;
  return { count, names: db.prepare(absent).pluck().all().map(String) };
}

function tellApart({ db }: PortalFile, plan: ImportPlan, table: string | null, columns: readonly StagedColumn[]): Tally {
  if (table && columns.some((c) => !c.fresh))
    db.exec(
      `UPDATE stage.rows AS r SET state = (SELECT CASE WHEN ${changes(columns, plan)} THEN 1 ELSE 2 END FROM ${sqlName(table)} t WHERE t.rowid = r.known) WHERE r.state = ${STATE.open}`,
    );
  const states = new Map(db.prepare("SELECT state, count(*) FROM stage.rows GROUP BY state").raw().all() as [number, number][]);
  const of = (n: number): number => states.get(n) ?? 0;
  const told = { fresh: of(STATE.fresh), changed: of(STATE.changed), same: of(STATE.same) };
  if (!table || told.changed === 0) return { ...told, columns: columns.map(() => 0) };
  const sums = columns.map((c) => `sum(${differs(c, plan)})`).join(", ");
  const found = db
    .prepare(`SELECT ${sums} FROM stage.rows r JOIN ${sqlName(table)} t ON t.rowid = r.known WHERE r.state = ${STATE.changed}`)
    .raw()
    .get();
  return { ...told, columns: found as number[] };
}

/** Which columns of the file say anything new: only those will be written, since writing one anew that is the same renews its indexes. */
function rememberChanged({ db }: PortalFile, columns: readonly StagedColumn[]): void {
  const put = db.prepare("INSERT INTO stage.changed VALUES (?)");
  for (const c of columns) put.run(c.at);
}

/** A field that is still to be made is empty in every record. */
const differs = (c: StagedColumn, plan: ImportPlan): string => (c.fresh ? `(r.c${c.at} IS NOT NULL)` : differsSql(c, plan.empties));
const changes = (columns: readonly StagedColumn[], plan: ImportPlan): string => columns.map((c) => differs(c, plan)).join(" OR ");

function examples(file: PortalFile, plan: ImportPlan, table: string, columns: readonly StagedColumn[]): ChangeExample[] {
  const label = schemaOf(file).table(table).labelFieldId;
  const parts = columns.flatMap((c) => [c.fresh ? "NULL" : heldSql(c, "t"), `r.c${c.at}`, differs(c, plan)]);
  const rows = file.db
    .prepare(
      `SELECT t.${sqlName(label)}, ${parts.join(", ")} FROM stage.rows r JOIN ${sqlName(table)} t ON t.rowid = r.known WHERE r.state = 1 ORDER BY r.n LIMIT ${EXAMPLES}`,
    )
    .raw()
    .all() as unknown[][];
  return rows.map((row) => ({
    name: String(row[0] ?? ""),
    changes: columns.flatMap((c, i) => {
      const [before, after, differ] = row.slice(1 + i * 3, 4 + i * 3);
      if (differ !== 1) return [];
      return [{ field: c.field.name, before: wordsOf(file, c, before), after: wordsOf(file, c, after) }];
    }),
  }));
}

/** In the portal's words; related records are called by name. */
function wordsOf(file: PortalFile, c: StagedColumn, stored: unknown): string {
  if (stored === null || stored === undefined) return "";
  if (holdsFiles(c.field)) return (JSON.parse(String(stored)) as string[]).map((id) => fileName(file, id)).join("; ");
  if (!isRelation(c.field)) return toWords(c.field, decodeValue(c.field, stored) as SeenValue, published(file).definition.portal);
  const target = schemaOf(file).table(c.field.options.target);
  const ids = pointsToSeveral(c.field) ? (JSON.parse(String(stored)) as string[]) : [String(stored)];
  const named = file.db.prepare(`SELECT ${sqlName(target.labelFieldId)} FROM ${sqlName(target.id)} WHERE id = ?`).pluck();
  const added = file.db.prepare("SELECT name FROM stage.adds WHERE mark = ?").pluck();
  return ids.map((id) => String(named.get(id) ?? added.get(id) ?? "")).join(", ");
}
