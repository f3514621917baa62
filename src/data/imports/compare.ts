/** The rows that were set aside beside the records that are there: which are new, which change what, and which records the file lacks. */
import type { ImportPlan } from "@/core/exchange/import-plan";
import { toWords } from "@/core/exchange/present";
import type { SeenValue } from "@/core/records";
import { holdsFiles } from "@/core/schema/fields/files";
import { isRelation } from "@/core/schema/types";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";
import { decodeValue, hasColumn, linkTableName } from "../records/query/physical";
import { schemaOf } from "../schema/read";
import { fileName } from "./beside";
import { importPath } from "./paths";
import type { StagedColumn } from "./planned";

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
  if (hasColumn(field)) return `${table}."${field.id}"`;
  const link =
    field.id === "f_person_companies"
      ? membershipsOf(table)
      : `SELECT target_id AS x FROM "${linkTableName(field)}" WHERE record_id = ${table}.id`;
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

export function compareStaged(file: PortalFile, id: string, plan: ImportPlan, columns: readonly StagedColumn[]): Comparison {
  return withStage(file, id, () => {
    const one = (text: string): number => file.db.prepare(text).pluck().get() as number;
    const table = "id" in plan.table ? plan.table.id : null;
    const known = columns.filter((c) => !c.fresh);
    if (table && known.length > 0)
      file.db.exec(
        `UPDATE stage.rows AS r SET state = (SELECT CASE WHEN ${changes(columns, plan)} THEN 1 ELSE 2 END FROM "${table}" t WHERE t.rowid = r.known) WHERE r.known IS NOT NULL`,
      );
    const states = new Map(file.db.prepare("SELECT state, count(*) FROM stage.rows GROUP BY state").raw().all() as [number, number][]);
    const of = (n: number): number => states.get(n) ?? 0;
    const counted = { fresh: of(0), changed: of(1), same: of(2) };
    const nothing = { fields: [], examples: [], lacking: { count: 0, names: [] } };
    if (!table || plan.key === null) return { ...counted, ...nothing };
    const schema = schemaOf(file);
    const label = schema.table(table).labelFieldId;
    const fields = of(1) === 0 ? [] : changedFields(file, plan, table, columns);
    const count = one(`SELECT count(*) FROM "${table}"`) - of(1) - of(2);
    const absent = `SELECT coalesce(t."${label}", '') FROM "${table}" t WHERE t.rowid NOT IN (SELECT known FROM stage.rows WHERE known IS NOT NULL) LIMIT ${NAMES}`;
    const names = count > 0 ? file.db.prepare(absent).pluck().all().map(String) : [];
    return { ...counted, fields, examples: examples(file, plan, table, columns), lacking: { count, names } };
  });
}

/** How many rows change which field, in one look at all of them. */
function changedFields(file: PortalFile, plan: ImportPlan, table: string, columns: readonly StagedColumn[]): ChangedField[] {
  const sums = columns.map((c) => `sum(${differs(c, plan)})`).join(", ");
  const found = file.db
    .prepare(`SELECT ${sums} FROM stage.rows r JOIN "${table}" t ON t.rowid = r.known WHERE r.state = 1`)
    .raw()
    .get() as number[];
  return columns.map((c, i) => ({ field: c.field.id, name: c.field.name, rows: found[i] ?? 0 })).filter((f) => f.rows > 0);
}

/** A field that is still to be made is empty in every record. */
const differs = (c: StagedColumn, plan: ImportPlan): string => (c.fresh ? `(r.c${c.at} IS NOT NULL)` : differsSql(c, plan.empties));
const changes = (columns: readonly StagedColumn[], plan: ImportPlan): string => columns.map((c) => differs(c, plan)).join(" OR ");

function examples(file: PortalFile, plan: ImportPlan, table: string, columns: readonly StagedColumn[]): ChangeExample[] {
  const label = schemaOf(file).table(table).labelFieldId;
  const parts = columns.flatMap((c) => [c.fresh ? "NULL" : heldSql(c, "t"), `r.c${c.at}`, differs(c, plan)]);
  const rows = file.db
    .prepare(
      `SELECT t."${label}", ${parts.join(", ")} FROM stage.rows r JOIN "${table}" t ON t.rowid = r.known WHERE r.state = 1 ORDER BY r.n LIMIT ${EXAMPLES}`,
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
  const ids = c.field.type === "relations" ? (JSON.parse(String(stored)) as string[]) : [String(stored)];
  const named = file.db.prepare(`SELECT "${target.labelFieldId}" FROM "${target.id}" WHERE id = ?`).pluck();
  const added = file.db.prepare("SELECT name FROM stage.adds WHERE mark = ?").pluck();
  return ids.map((id) => String(named.get(id) ?? added.get(id) ?? "")).join(", ");
}
