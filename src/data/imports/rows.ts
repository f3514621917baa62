/** The rows themselves, from where they were set aside into the table, and what was there before them. */

import type { Owner } from "@/core/access/who/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { choosesOne, holdsFiles, pointsToOne, pointsToSeveral } from "@/core/schema/fields/natures";
import type { Field, Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";
import { addCompany } from "../people/people";
import { automaticValues, hasAutomatic, remakeAutomatic } from "../records/write/automatic";
import { defaults } from "../records/write/incoming";
import { hasColumn, isFolded, keyName, linkTableName } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { readRow } from "../tables/rows";
import { type Made, storedValue } from "../tables/store";
import { differsSql, heldSql } from "./checking/what-differs";
import type { Places } from "./places";
import { settleFiles } from "./reading/beside";
import { Overtaken } from "./reading/overtaken";
import type { StagedColumn } from "./reading/planned";

export interface Bring {
  readonly file: PortalFile;
  readonly id: string;
  readonly plan: ImportPlan;
  readonly places: Places;
  readonly table: Table;
  readonly owner: Owner;
  readonly by: Made;
}

/** What a staged cell is once records and choices that were only named have ids. */
function stagedSql(b: Bring, c: StagedColumn): string {
  const cell = `r.c${c.at}`;
  if (c.fresh && choosesOne(c.field)) return `(SELECT id FROM stage.chosen WHERE at = ${c.at} AND word = ${cell})`;
  if ((c.field.options.target === undefined && !c.field.options.choices) || !named(b, c)) return cell;
  const settled = (x: string): string => `coalesce((SELECT id FROM stage.adds WHERE mark = ${x}), ${x})`;
  if (pointsToOne(c.field) || choosesOne(c.field)) return settled(cell);
  return `(SELECT CASE WHEN count(*) > 0 THEN json_group_array(x) END FROM (SELECT ${settled("j.value")} AS x FROM json_each(${cell}) j))`;
}
const named = (b: Bring, c: StagedColumn): boolean =>
  b.file.db.prepare("SELECT 1 FROM stage.adds WHERE at = ? LIMIT 1").get(c.at) !== undefined;

/** Choices that were only words when the rows were checked have their ids now. */
function rememberChoices(b: Bring): void {
  const fresh = b.places.columns.filter((c) => c.fresh && choosesOne(c.field));
  if (fresh.length === 0) return;
  b.file.db.exec("DROP TABLE IF EXISTS stage.chosen; CREATE TABLE stage.chosen (at INTEGER, word TEXT, id TEXT, PRIMARY KEY (at, word))");
  const put = b.file.db.prepare("INSERT INTO stage.chosen VALUES (?, ?, ?)");
  for (const c of fresh) for (const x of fieldOf(b, c).options.choices ?? []) put.run(c.at, x.name, x.id);
}

const fieldOf = (b: Bring, c: StagedColumn): Field => schemaOf(b.file).field(b.places.columnIds.get(c.at)!);

/** Columns of the file that are columns of the table, with what goes into each. */
function pairs(b: Bring): { column: string; sql: string; at: StagedColumn }[] {
  return b.places.columns.flatMap((c) => {
    const field = fieldOf(b, c);
    if (!hasColumn(field) || isIdentity(b.table, field)) return [];
    const own = { column: field.id, sql: stagedSql(b, c), at: c };
    return c.folded ? [own, { column: keyName(field.id), sql: `r.c${c.at}_k`, at: c }] : [own];
  });
}

/** Of new people and companies these were given as they were added, with all that hangs on them. */
const isIdentity = (table: Table, f: Field): boolean =>
  (table.kind === "people" && ["f_person_name", "f_person_email"].includes(f.id)) ||
  (table.kind === "companies" && f.id === "f_company_name");

export function insertRows(b: Bring): number {
  const { file, table } = b;
  rememberChoices(b);
  for (const c of b.places.columns) if (holdsFiles(c.field)) settleFiles(file, b.owner, c.at, b.places.columnIds.get(c.at)!);
  if (table.kind === "companies") addNamed(b);
  const columns = pairs(b);
  if (table.kind === "ordinary") {
    const fixed = fixedColumns(b);
    const into = [
      ...["id", "created_at", "created_by", "changed_at", "changed_by"],
      ...columns.map((c) => c.column),
      ...fixed.map((f) => f.column),
    ];
    file.db
      .prepare(
        `INSERT INTO ${sqlName(table.id)} (${into.map(sqlName).join(", ")}) SELECT r.id, @at, @by, @at, @by${[...columns.map((c) => c.sql), ...fixed.map((_, i) => `@d${i}`)].map((x) => `, ${x}`).join("")} FROM stage.rows r WHERE r.state = 0`,
      )
      .run({ ...b.by, ...Object.fromEntries(fixed.map((f, i) => [`d${i}`, f.value])) });
  } else if (columns.length > 0) file.db.exec(updateText(b, columns, "r.state = 0", (c) => c.sql));
  for (const c of b.places.columns) link(b, c, "r.state = 0");
  if (table.kind === "ordinary" && hasAutomatic(table)) fillAutomatic(b);
  return file.db
    .prepare(
      `INSERT INTO sys_import_rows SELECT ?, r.id, 1, t.version, NULL FROM stage.rows r JOIN ${sqlName(table.id)} t ON t.id = r.id WHERE r.state = 0`,
    )
    .run(b.id).changes;
}

/** What new records have where no column gives it. */
function fixedColumns(b: Bring): { column: string; value: string | number | null }[] {
  const given = new Set(b.places.columnIds.values());
  return Object.entries(defaults(b.table, b.owner)).flatMap(([id, v]) => {
    const field = schemaOf(b.file).field(id);
    if (given.has(id) || !hasColumn(field)) return [];
    const value = storedValue(v);
    return isFolded(field)
      ? [
          { column: id, value },
          { column: keyName(id), value: value === null ? null : fold(String(value)) },
        ]
      : [{ column: id, value }];
  });
}

function addNamed(b: Bring): void {
  const name = b.places.columns.find((c) => c.field.id === "f_company_name");
  if (!name) {
    if (b.file.db.prepare("SELECT 1 FROM stage.rows WHERE state = 0").get())
      throw new Overtaken("New companies need a name: let a column go to it.");
    return;
  }
  const rows = b.file.db.prepare(`SELECT id, c${name.at} AS name FROM stage.rows WHERE state = 0`).all() as { id: string; name: string }[];
  for (const r of rows) {
    const added = addCompany(b.file, b.owner, r.name, {}, r.id);
    if (!added.ok) throw new Overtaken(`${r.name}: ${added.error.message} Check all rows again.`);
  }
}

function updateText(
  b: Bring,
  columns: ReturnType<typeof pairs>,
  where: string,
  sql: (c: ReturnType<typeof pairs>[number]) => string,
  more = "",
): string {
  return `UPDATE ${sqlName(b.table.id)} AS t SET ${more}${columns.map((c) => `${sqlName(c.column)} = ${sql(c)}`).join(", ")} FROM stage.rows r WHERE ${where.includes("state = 1") ? "t.rowid = r.known" : "r.id = t.id"} AND ${where}`;
}

/** Links of a relation to several: those of new rows, or those that a row changes. */
function link(b: Bring, c: StagedColumn, where: string): void {
  const field = fieldOf(b, c);
  if (!pointsToSeveral(field) || field.id === "f_person_companies") return;
  const table = sqlName(linkTableName(field));
  const rows = `stage.rows r WHERE ${where} AND r.c${c.at} IS NOT NULL`;
  b.file.db.exec(
    `INSERT OR IGNORE INTO ${table} (record_id, target_id) SELECT r.id, j.value FROM (SELECT r.id, ${stagedSql(b, c)} AS ids FROM ${rows}) r, json_each(r.ids) j`,
  );
}

export function changeRows(b: Bring): number {
  const { file, table, plan } = b;
  const changed = changedColumns(b);
  const known = b.places.columns.filter((c) => changed.has(c.at)).map((c): StagedColumn => (c.fresh ? { ...c, field: fieldOf(b, c) } : c));
  const held = known.flatMap((c) => [`'${c.field.id}'`, heldSql(c, "t")]);
  const n = file.db
    .prepare(
      `INSERT INTO sys_import_rows SELECT ?, t.id, 0, t.version + 1, json_object(${held.join(", ")}) FROM stage.rows r JOIN ${sqlName(table.id)} t ON t.rowid = r.known WHERE r.state = 1`,
    )
    .run(b.id).changes;
  if (n === 0) return 0;
  const before = hasAutomatic(table) ? changedIds(b).map((id) => readRow(file, schemaOf(file), table, id)!) : [];
  for (const c of known) {
    if (!pointsToSeveral(c.field) || c.field.id === "f_person_companies") continue;
    const differing = `SELECT r.id FROM stage.rows r JOIN ${sqlName(table.id)} t ON t.rowid = r.known WHERE r.state = 1 AND ${differsSql(c, plan.empties)}`;
    file.db.exec(`DELETE FROM ${sqlName(linkTableName(c.field))} WHERE record_id IN (${differing})`);
    link(b, c, "r.state = 1");
  }
  const columns = pairs(b)
    .concat(identityPairs(b))
    .filter((c) => changed.has(c.at.at));
  const kept = (c: (typeof columns)[number]): string => (plan.empties === "leave" ? `coalesce(${c.sql}, t.${sqlName(c.column)})` : c.sql);
  const stamp = `version = t.version + 1, changed_at = '${b.by.at}', changed_by = '${b.by.by.replaceAll("'", "''")}'${columns.length > 0 ? ", " : ""}`;
  file.db.exec(updateText(b, columns, "r.state = 1", kept, stamp));
  if (before.length > 0) {
    remakeAutomatic({ file, policy: published(file).policy, viewer: b.owner }, table, before, b.by);
    // As the import leaves them: what follows from it is not somebody's touch.
    file.db
      .prepare(
        `UPDATE sys_import_rows AS i SET version = (SELECT version FROM ${sqlName(table.id)} t WHERE t.id = i.record_id) WHERE import_id = ? AND added = 0`,
      )
      .run(b.id);
  }
  return n;
}

/** Places of the columns that say anything new. */
function changedColumns({ file: { db } }: Bring): ReadonlySet<unknown> {
  // Rows that an earlier version of Elkhorn checked have no such table.
  if (!db.prepare("SELECT 1 FROM stage.sqlite_schema WHERE name = 'changed'").get())
    throw new Overtaken("Elkhorn has been renewed since these rows were checked. Check all rows again.");
  return new Set(db.prepare("SELECT at FROM stage.changed").pluck().all());
}

const changedIds = (b: Bring): string[] => b.file.db.prepare("SELECT id FROM stage.rows WHERE state = 1").pluck().all() as string[];

/** Names of people and companies that are there may change; the e-mail address is what they are known by. */
function identityPairs(b: Bring): ReturnType<typeof pairs> {
  return b.places.columns.flatMap((c) => {
    if (c.field.id !== "f_person_name" && c.field.id !== "f_company_name") return [];
    return [
      { column: c.field.id, sql: `r.c${c.at}`, at: c },
      { column: keyName(c.field.id), sql: `r.c${c.at}_k`, at: c },
    ];
  });
}

/** Numbers in order and addresses of the new rows, in the order of the file. */
function fillAutomatic(b: Bring): void {
  const { file, table } = b;
  const { policy } = published(file);
  for (const id of file.db.prepare("SELECT id FROM stage.rows WHERE state = 0 ORDER BY n").pluck().all() as string[]) {
    const row = readRow(file, policy.schema, table, id)!;
    const values = automaticValues({ file, policy, viewer: b.owner, table, id, company: row.companyId }, row.values, null);
    const columns = Object.entries(values).flatMap(([f, v]) => [
      [f, v],
      [keyName(f), v === null ? null : fold(String(v))],
    ]);
    if (columns.length > 0)
      file.db
        .prepare(`UPDATE ${sqlName(table.id)} SET ${columns.map(([c]) => `${sqlName(String(c))} = ?`).join(", ")} WHERE id = ?`)
        .run(...columns.map(([, v]) => v), id);
  }
}
