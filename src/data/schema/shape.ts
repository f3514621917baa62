/** Tables and fields as they are shaped by hand: named, described, ordered, put away, brought back, and removed for good. */
import { and, asc, eq, isNotNull } from "drizzle-orm";
import type { Owner } from "@/core/access/viewer";
import { isReserved } from "@/core/address/reserved";
import { slugOf } from "@/core/address/slug";
import type { Definition } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { type Choice, type Field, kindOf, type SharedOptions, type Table, targetOf } from "@/core/schema/types";
import { draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { reshape } from "../definition/reshape";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";
import { hasColumn, isFolded, keyName, linkTableName } from "../records/query/physical";
import { addField, addTable, freeTableSlug, indexUnique, type NewField, sharedOptions } from "./change";
import { dropField, dropTable } from "./drop";
import { nextNumber } from "./meta";
import { fieldOf, schemaOf } from "./read";
import { brokenWithout, withoutField, withoutTable } from "./references";

export type ShapeError = { code: "stale" } | { code: "refused"; message: string; field?: string };
type Done<T = null> = Result<T, ShapeError>;

const refused = (message: string, field?: string) => err<ShapeError>({ code: "refused", message, ...(field ? { field } : {}) });
const touched = (file: PortalFile): void => void nextNumber(file, "schema_version");
const noted = (file: PortalFile, owner: Owner, act: string, table: string, detail: string): void =>
  void record(file, { actor: actorOf(owner), via: "page", at: owner.now, act, table, detail });

/** What an editor saw of a table or field: a form that speaks of an older state is told so. */
export const seenOf = (of: Field | Table): string => {
  const { fields: _, ...own } = of as Table;
  return JSON.stringify(own);
};

class Refused extends Error {
  constructor(readonly reason: ShapeError) {
    super("refused");
  }
}
/** Nothing of it stays where it is refused. */
function shaping<T>(file: PortalFile, work: () => Done<T>): Done<T> {
  try {
    return transact(file, () => {
      const done = work();
      if (!done.ok) throw new Refused(done.error);
      return done;
    });
  } catch (e) {
    if (e instanceof Refused) return err(e.reason);
    throw e;
  }
}

const tooLong = (name: string, most: number): string | null =>
  name === "" ? "Give it a name." : name.length > most ? `Keep the name under ${most} characters.` : null;

export interface TableWords {
  readonly name: string;
  readonly singular: string;
  readonly about: string;
  readonly slug: string;
  /** The field that names a record. */
  readonly label: string;
}

export function changeTable(file: PortalFile, owner: Owner, id: string, words: TableWords, seen: string): Done {
  return shaping(file, () => {
    const schema = schemaOf(file);
    const table = schema.findTable(id);
    if (!table) return refused("This table is gone.");
    if (seenOf(table) !== seen) return err({ code: "stale" });
    const name = words.name.trim();
    const problem = tooLong(name, 60);
    if (problem) return refused(problem, "name");
    if ((schema.tableCalled(name) ?? table) !== table) return refused(`There is a table called ${name}.`, "name");
    const singular = words.singular.trim();
    if (tooLong(singular, 60)) return refused("Say what one of them is called.", "singular");
    const slug = words.slug.trim().toLowerCase();
    if (slug !== table.slug) {
      if (!/^[a-z0-9](?:[a-z0-9-]{0,58}[a-z0-9])?$/.test(slug))
        return refused("Use small letters, digits and hyphens for the address.", "slug");
      if (isReserved("table", slug) || schema.tableBySlug(slug))
        return refused(`${slug} is taken, or Elkhorn needs it for itself.`, "slug");
      file.orm.insert(t.oldAddresses).values({ slug: table.slug, tableId: id }).onConflictDoNothing().run();
      file.orm.delete(t.oldAddresses).where(eq(t.oldAddresses.slug, slug)).run();
    }
    const label = table.fields.find((f) => f.id === words.label);
    if (!label || !kindOf(label).folds) return refused("A record is called by a field of text.", "label");
    if (label.id !== table.labelFieldId) indexLabel(file, table, label);
    file.orm
      .update(t.tables)
      .set({ name, singular, about: words.about.trim().slice(0, 500), slug, labelField: label.id })
      .where(eq(t.tables.id, id))
      .run();
    touched(file);
    noted(file, owner, "changed a table", id, name);
    return ok(null);
  });
}

function indexLabel(file: PortalFile, table: Table, label: Field): void {
  const key = keyName(label.id);
  file.db.exec(`DROP INDEX IF EXISTS "ix_${table.id}_home"; DROP INDEX IF EXISTS "ix_${table.id}_label";
    CREATE INDEX "ix_${table.id}_home" ON "${table.id}" (company_id, "${key}"); CREATE INDEX "ix_${table.id}_label" ON "${table.id}" ("${key}", id)`);
}

/** A table with nothing but a name, or with the fields of another. */
export function newTable(file: PortalFile, owner: Owner, given: { name: string; singular: string; like: string | null }): Done<string> {
  return shaping(file, (): Done<string> => {
    const schema = schemaOf(file);
    const name = given.name.trim();
    const problem = tooLong(name, 60);
    if (problem) return refused(problem, "name");
    if (schema.tableCalled(name)) return refused(`There is a table called ${name}.`, "name");
    const like = given.like ? schema.findTable(given.like) : undefined;
    if (given.like && !like) return refused("Choose a table to take the shape of.", "like");
    const fields = like ? likeOf(like) : [{ slug: "name", name: "Name", type: "text" as const, options: { required: true } }];
    const id = addTable(file, { slug: freeTableSlug(schema, name), name, singular: given.singular.trim() || name, fields });
    noted(file, owner, "added a table", id, name);
    return ok(id);
  });
}

/** The one that names records first; what is made from other fields is not taken along. */
function likeOf(table: Table): NewField[] {
  const own = table.fields.filter((f) => f.type !== "readable-address" && (!f.system || f.options.kept));
  const first = own.find((f) => f.id === table.labelFieldId);
  return [...(first ? [first] : []), ...own.filter((f) => f !== first)].map((f): NewField => {
    const { choices, ...options } = f.options;
    return {
      slug: f.slug,
      name: f.name,
      type: f.type,
      options: { ...options, ...(choices ? { choices: choices.map(({ id: _, ...c }: Choice) => c) } : {}) } as never,
    };
  });
}

export interface NewFieldGiven {
  readonly name: string;
  readonly type: Field["type"];
  readonly options: NonNullable<NewField["options"]>;
}

export function newField(file: PortalFile, owner: Owner, tableId: string, given: NewFieldGiven): Done<string> {
  return shaping(file, (): Done<string> => {
    const table = schemaOf(file).findTable(tableId);
    if (!table) return refused("This table is gone.");
    if (table.kind === "books") return refused(`${table.name} are written by Elkhorn, and by nobody else.`);
    const name = given.name.trim();
    const problem = nameProblem(table, name, null);
    if (problem) return refused(problem, "name");
    if ((given.type === "relation" || given.type === "relations") && !schemaOf(file).findTable(given.options.target ?? ""))
      return refused("Choose the table that it points to.", "target");
    if (given.type === "readable-address" && !table.fields.some((f) => f.id === given.options.madeFrom))
      return refused("Choose the field that it is made from.", "madeFrom");
    const taken = takenSlugs(file, tableId);
    const id = addField(file, tableId, {
      slug: slugOf(name, "field", (s) => taken.has(s)),
      name,
      type: given.type,
      options: given.options,
    });
    noted(file, owner, "added a field", tableId, name);
    return ok(id);
  });
}

/** Those of fields that are put away, too. */
const takenSlugs = (file: PortalFile, tableId: string): Set<string> =>
  new Set(file.db.prepare("SELECT slug FROM sys_fields WHERE table_id = ?").pluck().all(tableId) as string[]);

export function nameProblem(table: Table, name: string, own: string | null): string | null {
  const long = tooLong(name, 80);
  if (long) return long;
  return table.fields.some((f) => f.id !== own && f.name.toLowerCase() === name.toLowerCase())
    ? `There is a field called ${name} already.`
    : null;
}

/** What may be changed of a field without a look at its values; what stands in them is for `retype.ts`. */
export interface FieldGiven extends SharedOptions {
  readonly name: string;
  /** Options of its own type, such as a unit. */
  readonly own: Record<string, unknown>;
}

const LOOK = ["plain", "unit", "least", "most", "longest", "mask", "maskSays", "country", "prefix", "digits"] as const;

export function changeField(file: PortalFile, owner: Owner, id: string, given: FieldGiven, seen: string): Done {
  return shaping(file, () => {
    const schema = schemaOf(file);
    const field = schema.findField(id);
    if (!field) return refused("This field is gone.");
    if (seenOf(field) !== seen) return err({ code: "stale" });
    const table = schema.table(field.tableId);
    const name = given.name.trim();
    const problem = nameProblem(table, name, id);
    if (problem) return refused(problem, "name");
    if (given.unique && !field.options.unique) {
      const twice = repeated(file, table, field);
      if (twice.length > 0) return refused(`These stand more than once: ${twice.join(", ")}. Make them unlike each other first.`, "unique");
      indexUnique(file, field);
    }
    const kept = Object.fromEntries(
      Object.entries(field.options).filter(([k]) => !(LOOK as readonly string[]).includes(k) && !SHARED.includes(k)),
    );
    const own = Object.fromEntries(LOOK.flatMap((k) => (given.own[k] === undefined || given.own[k] === "" ? [] : [[k, given.own[k]]])));
    const options = {
      ...kindOf(field).options({ ...kept, ...own } as never),
      ...sharedOptions({ ...given, ...(field.options.kept ? { kept: field.options.kept } : {}) }),
    };
    file.orm
      .update(t.fields)
      .set({ name, options: JSON.stringify(options) })
      .where(eq(t.fields.id, id))
      .run();
    touched(file);
    noted(file, owner, "changed a field", table.id, name);
    return ok(null);
  });
}
const SHARED = ["required", "default", "unique", "help", "offForms", "offSearch", "onRemoval"];

/** Values that more than one record has, where none may be shared; of owned tables, within a company. */
export function repeated(file: PortalFile, table: Table, field: Field): string[] {
  if (!hasColumn(field)) return [];
  const column = isFolded(field) ? keyName(field.id) : field.id;
  const within = table.kind === "ordinary" && published(file).policy.wall(table.id).kind === "owned" ? ", company_id" : "";
  return file.db
    .prepare(
      `SELECT "${field.id}" FROM "${table.id}" WHERE "${column}" IS NOT NULL GROUP BY "${column}"${within} HAVING count(*) > 1 LIMIT 5`,
    )
    .pluck()
    .all()
    .map((v) => `“${String(v).slice(0, 60)}”`);
}

/** One place up or down among the table's fields. */
export function moveField(file: PortalFile, _owner: Owner, id: string, by: -1 | 1): Done {
  return shaping(file, () => {
    const field = schemaOf(file).findField(id);
    if (!field) return refused("This field is gone.");
    const rows = file.orm
      .select({ id: t.fields.id, position: t.fields.position })
      .from(t.fields)
      .where(eq(t.fields.tableId, field.tableId))
      .orderBy(asc(t.fields.position))
      .all();
    const shown = rows.filter((r) => schemaOf(file).findField(r.id));
    const at = shown.findIndex((r) => r.id === id);
    const other = shown[at + by];
    if (!other) return ok(null);
    file.orm.update(t.fields).set({ position: other.position }).where(eq(t.fields.id, id)).run();
    file.orm.update(t.fields).set({ position: shown[at]!.position }).where(eq(t.fields.id, other.id)).run();
    touched(file);
    return ok(null);
  });
}

/** What stands in the way of a field's going, and what would follow it, in words. */
export interface Leaving {
  readonly breaks: readonly string[];
  readonly follows: readonly string[];
  readonly filled: number;
}

export function leavingField(file: PortalFile, owner: Owner, field: Field): Leaving {
  const schema = schemaOf(file);
  const ids = new Set([field.id]);
  const [live, draft] = [published(file).definition, draftOf(file, owner).definition];
  const table = schema.table(field.tableId);
  const breaks = new Set([...brokenWithout(live, ids, schema), ...brokenWithout(draft, ids, schema)]);
  if (field.id === table.labelFieldId) breaks.add(`every ${table.singular.toLowerCase()} is called by it`);
  for (const f of table.fields)
    if (f.type === "readable-address" && f.options.madeFrom === field.id) breaks.add(`the field ${f.name} is made from it`);
  const listing = live.grants.filter((g) => g.fields.includes(field.id) || g.changes.includes(field.id)).length;
  const follows =
    listing === 0 ? [] : [`${listing === 1 ? "One grant lists it and no longer will" : `${listing} grants list it and no longer will`}`];
  const [from, column] = hasColumn(field) ? [field.tableId, field.id] : [linkTableName(field), "target_id"];
  const filled = file.db.prepare(`SELECT count(*) FROM "${from}" WHERE "${column}" IS NOT NULL`).pluck().get() as number;
  return { breaks: [...breaks], follows, filled };
}

/** Out of everybody's sight, with its values; the rules no longer list it. It can be brought back. */
export function putFieldAway(file: PortalFile, owner: Owner, id: string): Done {
  return shaping(file, () => {
    const field = schemaOf(file).findField(id);
    if (!field) return refused("This field is gone already.");
    if (field.system && !isOwn(field)) return refused(`${field.name} belongs to every portal and stays.`);
    const { breaks } = leavingField(file, owner, field);
    if (breaks.length > 0) return refused(`It cannot go while something rests on it: ${breaks.join("; ")}.`);
    file.orm.update(t.fields).set({ away: owner.now }).where(eq(t.fields.id, id)).run();
    touched(file);
    return followed(file, owner, (d) => withoutField(d, id), `The field ${field.name} was put away`);
  });
}
const isOwn = (f: Field): boolean => f.options.kept !== undefined || f.type === "serial" || f.type === "readable-address";

function followed(file: PortalFile, owner: Owner, edit: (d: Definition) => Definition, why: string): Done {
  const done = reshape(file, owner, edit, why);
  if (!done.ok) return refused(`It cannot go while the rules speak of it: ${done.error.join(" ")}`);
  record(file, { actor: actorOf(owner), via: "page", at: owner.now, act: "reshaped", detail: why });
  return ok(null);
}

export interface AwayField {
  readonly id: string;
  readonly name: string;
  readonly type: Field["type"];
  readonly away: number;
}

export const fieldsAway = (file: PortalFile, _owner: Owner, tableId: string): AwayField[] =>
  file.orm
    .select()
    .from(t.fields)
    .where(and(eq(t.fields.tableId, tableId), isNotNull(t.fields.away)))
    .all()
    .map((row) => ({ id: row.id, name: row.name, type: row.type as Field["type"], away: row.away! }));

export function bringFieldBack(file: PortalFile, owner: Owner, id: string): Done {
  return shaping(file, () => {
    const row = file.orm.select().from(t.fields).where(eq(t.fields.id, id)).get();
    const table = row && schemaOf(file).findTable(row.tableId);
    if (!row?.away || !table) return refused("This field is not put away.");
    const target = targetOf(fieldOf(row));
    if (target && !schemaOf(file).findTable(target)) return refused("The table that it points to is put away. Bring that back first.");
    if (nameProblem(table, row.name, id)) return refused(`There is another field called ${row.name} now. Rename that first.`);
    file.orm.update(t.fields).set({ away: null }).where(eq(t.fields.id, id)).run();
    touched(file);
    noted(file, owner, "brought a field back", table.id, row.name);
    return ok(null);
  });
}

/** For good, with its values. Only what is put away can go. */
export function removeField(file: PortalFile, owner: Owner, id: string): Done {
  return shaping(file, () => {
    const row = file.orm.select().from(t.fields).where(eq(t.fields.id, id)).get();
    if (!row?.away) return refused("Put the field away first.");
    dropField(file, id);
    noted(file, owner, "removed a field", row.tableId, row.name);
    return ok(null);
  });
}

export interface LeavingTable extends Leaving {
  readonly records: number;
}

export function leavingTable(file: PortalFile, owner: Owner, table: Table): LeavingTable {
  const schema = schemaOf(file);
  const towards = schema.tables.flatMap((x) => x.fields).filter((f) => targetOf(f) === table.id && f.tableId !== table.id);
  const ids = new Set([...towards, ...table.fields].map((f) => f.id));
  const breaks = new Set<string>();
  const follows: string[] = [];
  for (const d of [published(file).definition, draftOf(file, owner).definition])
    for (const b of brokenWithout(withoutTable(d, table.id), ids, schema)) breaks.add(b);
  for (const f of towards)
    if (f.id === schema.table(f.tableId).labelFieldId) breaks.add(`${schema.table(f.tableId).name} are called by their ${f.name}`);
  const grants = published(file).definition.grants.filter((g) => g.table === table.id).length;
  if (grants > 0) follows.push(grants === 1 ? "one grant on it" : `${grants} grants on it`);
  for (const f of towards) follows.push(`the field ${f.name} of ${schema.table(f.tableId).name}`);
  const records = file.db.prepare(`SELECT count(*) FROM "${table.id}"`).pluck().get() as number;
  return { breaks: [...breaks], follows, filled: records, records };
}

/** With the relations that point to it, its grants and its wall. Its records stay with it and come back with it. */
export function putTableAway(file: PortalFile, owner: Owner, id: string): Done {
  return shaping(file, () => {
    const schema = schemaOf(file);
    const table = schema.findTable(id);
    if (!table) return refused("This table is gone already.");
    if (table.kind !== "ordinary") return refused(`${table.name} belong to every portal and stay.`);
    const { breaks } = leavingTable(file, owner, table);
    if (breaks.length > 0) return refused(`It cannot go while something rests on it: ${breaks.join("; ")}.`);
    const towards = schema.tables.flatMap((x) => x.fields).filter((f) => targetOf(f) === id && f.tableId !== id);
    for (const f of towards) file.orm.update(t.fields).set({ away: owner.now }).where(eq(t.fields.id, f.id)).run();
    file.orm.update(t.tables).set({ away: owner.now }).where(eq(t.tables.id, id)).run();
    touched(file);
    return followed(
      file,
      owner,
      (d) => towards.reduce((x, f) => withoutField(x, f.id), withoutTable(d, id)),
      `The table ${table.name} was put away`,
    );
  });
}

export interface AwayTable {
  readonly id: string;
  readonly name: string;
  readonly away: number;
  readonly records: number;
}

export const tablesAway = (file: PortalFile, _owner: Owner): AwayTable[] =>
  file.orm
    .select()
    .from(t.tables)
    .where(isNotNull(t.tables.away))
    .all()
    .map((row) => ({
      id: row.id,
      name: row.name,
      away: row.away!,
      records: file.db.prepare(`SELECT count(*) FROM "${row.id}"`).pluck().get() as number,
    }));

/** With the relations that went with it. Nobody but the agency sees it until a grant opens it again. */
export function bringTableBack(file: PortalFile, owner: Owner, id: string): Done {
  return shaping(file, () => {
    const row = file.orm.select().from(t.tables).where(eq(t.tables.id, id)).get();
    if (!row?.away) return refused("This table is not put away.");
    const schema = schemaOf(file);
    if (schema.tables.some((x) => x.name.toLowerCase() === row.name.toLowerCase()))
      return refused(`There is another table called ${row.name} now. Rename that first.`);
    const there = new Set(schema.tables.map((x) => x.id));
    file.orm.update(t.tables).set({ away: null }).where(eq(t.tables.id, id)).run();
    for (const f of file.orm.select().from(t.fields).where(eq(t.fields.away, row.away)).all())
      if (targetOf(fieldOf(f)) === id && there.has(f.tableId))
        file.orm.update(t.fields).set({ away: null }).where(eq(t.fields.id, f.id)).run();
    touched(file);
    noted(file, owner, "brought a table back", id, row.name);
    return ok(null);
  });
}

/** For good, with its records, and the relations that pointed to it. */
export function removeTable(file: PortalFile, owner: Owner, id: string): Done {
  return shaping(file, () => {
    const row = file.orm.select().from(t.tables).where(eq(t.tables.id, id)).get();
    if (!row?.away) return refused("Put the table away first.");
    for (const f of file.orm.select().from(t.fields).where(isNotNull(t.fields.away)).all())
      if (f.tableId !== id && targetOf(fieldOf(f)) === id) dropField(file, f.id);
    dropTable(file, id);
    noted(file, owner, "removed a table", id, row.name);
    return ok(null);
  });
}
