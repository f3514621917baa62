/** Brings a checked import in: new table, fields, companies and every good row in one transaction, or nothing at all. */

import { rmSync } from "node:fs";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf, actorText } from "@/core/events/event";
import { fills, type ImportPlan, type PlanColumn } from "@/core/exchange/import-plan";
import { err, ok, type Result } from "@/core/result";
import type { Table } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import { record } from "../events/record";
import { isFull } from "../file/full";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import { transact } from "../file/transact";
import { storeCompanies } from "../tables/company";
import { schemaOf } from "../tables/read";
import { accessInDraft } from "./access";
import { addChoices, addCompanies, addPeople, addRecords } from "./additions";
import { makePlaces, type Places } from "./places";
import { removeArchive } from "./reading/archive";
import { Overtaken } from "./reading/overtaken";
import { importPath } from "./reading/paths";
import { removeUpload } from "./reading/sources";
import { changeRows, insertRows } from "./rows";
import type { MadeBeside } from "./undo";

class NotChecked extends Error {
  override message = "This import is in already, or was given up. Load the page again.";
}

interface ToCommit {
  readonly file: PortalFile;
  readonly id: string;
  readonly plan: ImportPlan;
}

export interface BroughtRows {
  /** The address of the table. */
  readonly table: string;
  readonly rows: number;
  readonly added: number;
  readonly changed: number;
}

export function commitImport(asked: ToCommit, owner: Owner): Result<BroughtRows, string> {
  const { file, id } = asked;
  let attached = false;
  let over = false;
  try {
    file.db.prepare("ATTACH DATABASE ? AS stage").run(importPath(id, "stage"));
    attached = true;
    const done = transact(file, () => bringIn(asked, owner));
    reached("import: it is in");
    over = lighten(file, id);
    return ok(done);
  } catch (e) {
    if (e instanceof NotChecked || e instanceof Overtaken) return err(e.message);
    const code = (e as { code?: string }).code;
    if (isFull(e)) return err("The disk is full. Nothing was imported and nothing is damaged; make room and bring it in again.");
    if (code === "SQLITE_BUSY") return err("The portal was busy for too long. Nothing was imported; bring it in again.");
    throw e;
  } finally {
    if (attached) file.db.exec("DETACH DATABASE stage");
    if (over) rmSync(importPath(id, "stage"), { force: true });
  }
}

/**
 * The refused rows stay for the download; true where there are none, and nothing of what was set aside is needed any more. What is in is
 * in, even where it cannot be tidied up after: no room, or somebody who asked for the same import looks at its rows. The nightly sweep has
 * the rest.
 */
function lighten(file: PortalFile, id: string): boolean {
  try {
    removeUpload(id);
    removeArchive(id);
    if (!file.db.prepare("SELECT 1 FROM stage.bad LIMIT 1").get()) return true;
    file.db.exec("DROP TABLE stage.rows; VACUUM stage");
  } catch (e) {
    if (!/^SQLITE_(FULL|BUSY|LOCKED)/.test(String((e as { code?: string }).code))) throw e;
  }
  return false;
}

function bringIn({ file, id, plan }: ToCommit, owner: Owner): BroughtRows {
  // Asked for twice, it is brought in once: the state is read where nobody else can write.
  if (file.db.prepare("SELECT state FROM sys_imports WHERE id = ?").pluck().get(id) !== "checked") throw new NotChecked();
  nobodyElse(file, plan);
  const companies = addCompanies(file, owner);
  reached("import: companies are added");
  const records = addRecords(file, owner);
  const choices = addChoices(file, plan);
  const places = makePlaces(file, plan);
  const table = schemaOf(file).table(places.tableId);
  const made: MadeBeside = {
    table: "id" in plan.table ? null : table.id,
    fields: places.madeFields,
    companies,
    records,
    choices,
    grants: [],
    wall: false,
  };
  const by = { by: actorText(actorOf(owner)), at: new Date(owner.now).toISOString() };
  const bring = { file, id, plan, places, table, owner, by };
  if (table.kind === "people") addPeople(bring);
  const added = insertRows(bring);
  reached("import: rows are copied");
  const changed = made.table ? 0 : changeRows(bring);
  if (made.table) Object.assign(made, accessInDraft(file, owner, table, plan, places));
  else storeCompaniesAround(file, table, places);
  const last = {
    kept: mappingKept(plan, places),
    done: "done",
    table: table.id,
    made: JSON.stringify(made),
    at: new Date(owner.now).toISOString(),
    rows: added + changed,
    id,
  };
  file.db
    .prepare(
      "UPDATE sys_imports SET state = @done, table_id = @table, made = @made, done_at = @at, good = @rows, plan = json_set(plan, '$.kept', json(@kept)) WHERE id = @id",
    )
    .run(last);
  const detail = `${added} added, ${changed} changed`;
  record(file, { actor: actorOf(owner), via: "import", at: owner.now, kind: "imported", table: table.id, detail, imported: id });
  return { table: table.slug, rows: added + changed, added, changed };
}

/** The mapping is kept for the next file with the same columns: to fields and a table that are there now. */
function mappingKept(plan: ImportPlan, { tableId, columnIds }: Places): string {
  const columns = plan.columns.map((c, at): PlanColumn => {
    const field = columnIds.get(at);
    if (!field || !fills(c)) return c;
    return { to: "field", field, order: c.order, mark: c.mark, by: c.by, add: false, ...(c.as ? { as: c.as } : {}) };
  });
  const whose = plan.whose.kind === "column" && "name" in plan.table ? ({ kind: "as-is" } as const) : plan.whose;
  const kept: ImportPlan = { ...plan, table: { id: tableId }, columns, title: null, starters: [], whose };
  return JSON.stringify(kept);
}

/** Records that the check knew must be there still, and none that it took for new may have come meanwhile. */
function nobodyElse(file: PortalFile, plan: ImportPlan): void {
  if (!("id" in plan.table)) return;
  const table = schemaOf(file).findTable(plan.table.id);
  if (!table) throw new Overtaken("The table is gone. Nothing was imported.");
  const gone = file.db
    .prepare(
      `SELECT count(*) FROM stage.rows r WHERE r.known IS NOT NULL AND NOT EXISTS (SELECT 1 FROM ${sqlName(table.id)} t WHERE t.rowid = r.known AND r.id IN (t.id, ''))`,
    )
    .pluck()
    .get() as number;
  if (gone > 0)
    throw new Overtaken(
      `${gone === 1 ? "One record of this import was" : `${gone} records of this import were`} removed meanwhile. Check all rows again.`,
    );
}

/** Whose the records are, and those of other tables whose way to a company goes through a relation that was imported. */
function storeCompaniesAround(file: PortalFile, table: Table, places: Places): void {
  const { policy } = published(file);
  const written = new Set(places.columnIds.values());
  for (const t of policy.schema.tables) {
    const wall = policy.wall(t.id);
    if (t.id === table.id || (wall.kind === "owned" && wall.path.some((f) => written.has(f)))) storeCompanies(file, policy, t.id);
  }
}
