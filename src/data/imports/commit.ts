/** Brings a checked import in: new table, fields, companies and every good row in one transaction, or nothing at all. */

import { rmSync } from "node:fs";
import type { Owner } from "@/core/access/viewer";
import { slugOf } from "@/core/address/slug";
import { actorOf, actorText } from "@/core/events/event";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { err, ok, type Result } from "@/core/result";
import { fold } from "@/core/text/fold";
import { changeDraft, draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import { transact } from "../file/transact";
import { addCompany } from "../people/people";
import { storeCompanies } from "../records/write/company";
import { addField, addTable, freeTableSlug } from "../schema/change";
import { schemaOf } from "../schema/read";
import { plannedColumns } from "./check";
import { importPath } from "./receive";

const SYSTEM = '"id", "created_at", "created_by", "changed_at", "changed_by"';

const singularOf = (name: string): string =>
  /ies$/i.test(name) ? name.replace(/ies$/i, "y") : /[^s]s$/i.test(name) ? name.slice(0, -1) : name;

class NotChecked extends Error {
  override message = "This import is in already, or was given up. Load the page again.";
}

interface ToCommit {
  readonly file: PortalFile;
  readonly id: string;
  readonly plan: ImportPlan;
  readonly newCompanies: readonly string[];
}

export function commitImport(asked: ToCommit, owner: Owner): Result<{ table: string; rows: number }, string> {
  const { file, id } = asked;
  let attached = false;
  try {
    file.db.prepare("ATTACH DATABASE ? AS stage").run(importPath(id, "stage"));
    attached = true;
    const done = transact(file, () => bringIn(asked, owner));
    reached("import: it is in");
    lighten(file, id);
    return ok(done);
  } catch (e) {
    if (e instanceof NotChecked) return err(e.message);
    const code = (e as { code?: string }).code;
    if (code === "SQLITE_FULL")
      return err("The disk is full. Nothing was imported and nothing is damaged; make room and bring it in again.");
    if (code === "SQLITE_BUSY") return err("The portal was busy for too long. Nothing was imported; bring it in again.");
    throw e;
  } finally {
    if (attached) file.db.exec("DETACH DATABASE stage");
  }
}

/**
 * The refused rows stay for the download. What is in is in, even where it cannot be tidied up after: no room, or somebody who asked for the
 * same import looks at its rows. The nightly sweep has the rest.
 */
function lighten(file: PortalFile, id: string): void {
  try {
    rmSync(importPath(id, "csv"), { force: true });
    file.db.exec("DROP TABLE stage.rows; VACUUM stage");
  } catch (e) {
    if (!/^SQLITE_(FULL|BUSY|LOCKED)/.test(String((e as { code?: string }).code))) throw e;
  }
}

function bringIn({ file, id, plan, newCompanies }: ToCommit, owner: Owner): { table: string; rows: number } {
  // Asked for twice, it is brought in once: the state is read where nobody else can write.
  if (file.db.prepare("SELECT state FROM sys_imports WHERE id = ?").pluck().get(id) !== "checked") throw new NotChecked();
  const companyIds = new Map<string, string>();
  for (const name of newCompanies) {
    const added = addCompany(file, owner, name);
    if (!added.ok) throw new Error(added.error.message);
    companyIds.set(fold(name.normalize("NFC")), added.value.id);
  }
  reached("import: companies are added");
  // Companies that were only names when the rows were checked have their ids now.
  file.db.exec("DROP TABLE IF EXISTS stage.added; CREATE TABLE stage.added (name TEXT PRIMARY KEY, id TEXT)");
  const remember = file.db.prepare("INSERT INTO stage.added VALUES (?, ?)");
  for (const [name, company] of companyIds) remember.run(`new:${name}`, company);
  const planned = plannedColumns(plan, schemaOf(file));
  const { tableId, columnIds } = makePlaces(file, plan);
  const into = planned.flatMap((c) =>
    c.folded ? [`"${columnIds.get(c.at)}"`, `"${columnIds.get(c.at)}_k"`] : [`"${columnIds.get(c.at)}"`],
  );
  const named = (at: number): string =>
    companyIds.size > 0 && at === plan.companyColumn ? `coalesce((SELECT id FROM stage.added WHERE name = c${at}), c${at})` : `c${at}`;
  file.db.exec("DROP TABLE IF EXISTS stage.chosen; CREATE TABLE stage.chosen (at INTEGER, word TEXT, id TEXT, PRIMARY KEY (at, word))");
  const remembered = file.db.prepare("INSERT INTO stage.chosen VALUES (?, ?, ?)");
  // Choices that were only words when the rows were checked have their ids now.
  const chosen = (c: (typeof planned)[number]): string => {
    const field = schemaOf(file).field(columnIds.get(c.at)!);
    if (!c.field.id.startsWith("new_") || field.type !== "choice") return named(c.at);
    for (const x of field.options.choices) remembered.run(c.at, x.name, x.id);
    return `(SELECT id FROM stage.chosen WHERE at = ${c.at} AND word = c${c.at})`;
  };
  const from = planned.flatMap((c) => (c.folded ? [named(c.at), `c${c.at}_k`] : [c.field.type === "choice" ? chosen(c) : named(c.at)]));
  const by = actorText(actorOf(owner));
  const rows = file.db
    .prepare(
      `INSERT INTO "${tableId}" (${SYSTEM}, ${into.join(", ")}) SELECT rows.id, @at, @by, @at, @by, ${from.join(", ")} FROM stage.rows`,
    )
    .run({ at: new Date(owner.now).toISOString(), by }).changes;
  reached("import: rows are copied");
  if ("name" in plan.table && plan.companyColumn !== null) wallInDraft(file, owner, tableId, columnIds.get(plan.companyColumn)!);
  else storeCompanies(file, published(file).policy, tableId);
  file.db.prepare("UPDATE sys_imports SET state = 'done', table_id = ?, good = ? WHERE id = ?").run(tableId, rows, id);
  record(file, { actor: actorOf(owner), via: "import", at: owner.now, act: "imported", table: tableId, detail: `${rows} records` });
  return { table: schemaOf(file).table(tableId).slug, rows };
}

/** A new table is nobody's until it is published; the draft already has its wall. */
function wallInDraft(file: PortalFile, owner: Owner, tableId: string, companyField: string): void {
  const { revision } = draftOf(file, owner);
  const changed = changeDraft(file, owner, revision, (d) => ({
    ...d,
    walls: { ...d.walls, [tableId]: { kind: "owned", path: [companyField] } },
  }));
  if (!changed.ok) throw new Error("The draft could not take the new table's wall; the import is undone.");
}

/** The table and fields that the rows go to; made where they are new. */
function makePlaces(file: PortalFile, plan: ImportPlan): { tableId: string; columnIds: Map<number, string> } {
  const schema = schemaOf(file);
  const columnIds = new Map<number, string>();
  const planned = plannedColumns(plan, schema);
  const taken = new Set<string>();
  const slugFor = (name: string): string => {
    const slug = slugOf(name, "field", (s) => taken.has(s));
    taken.add(slug);
    return slug;
  };
  const isNew = (c: (typeof planned)[number]): boolean => c.field.id.startsWith("new_");
  const spec = (c: (typeof planned)[number]) => ({
    slug: slugFor(c.field.name),
    name: c.field.name,
    type: c.field.type,
    options: { ...c.field.options, ...(c.field.options.choices ? { choices: c.field.options.choices.map((x) => x.name) } : {}) },
  });
  if ("id" in plan.table) {
    const tableId = plan.table.id;
    for (const f of schema.table(tableId).fields) taken.add(f.slug);
    for (const c of planned) columnIds.set(c.at, isNew(c) ? addField(file, tableId, spec(c)) : c.field.id);
    return { tableId, columnIds };
  }
  const { name } = plan.table;
  const slug = freeTableSlug(schema, name);
  // The first text names a record; without one, the first column does.
  const first = planned.find((c) => c.field.type === "text") ?? planned[0]!;
  const ordered = [first, ...planned.filter((c) => c !== first)];
  const tableId = addTable(file, { slug, name, singular: singularOf(name), fields: ordered.map(spec) });
  const made = schemaOf(file).table(tableId).fields;
  for (const [i, c] of ordered.entries()) columnIds.set(c.at, made[i]!.id);
  return { tableId, columnIds };
}
