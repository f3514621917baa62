/** Tables and fields as they are shaped by hand: named, described, ordered. */

import { asc, eq } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { isReserved } from "@/core/address/reserved";
import { slugOf } from "@/core/address/slug";
import { err, ok } from "@/core/result";
import { isMadeFromAnother, isRelation } from "@/core/schema/fields/natures";
import { type Choice, type Field, kindOf, type SharedOptions, type Table } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { addField, addTable, freeTableSlug, indexUnique, type NewField, sharedOptions } from "../tables/change";
import { hasColumn, isFolded, keyName } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { type Done, noted, refused, shaping, touched } from "./shaping";

/** What an editor saw of a table or field: a form that speaks of an older state is told so. */
export const seenOf = (of: Field | Table): string => {
  const { fields: _, ...own } = of as Table;
  return JSON.stringify(own);
};

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

/** Renames a table. `seen` is the state that was looked at: refused where somebody else changed it since. */
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
    noted(file, owner, "table-changed", id, name);
    return ok(null);
  });
}

function indexLabel(file: PortalFile, table: Table, label: Field): void {
  const key = keyName(label.id);
  file.db.exec(`DROP INDEX IF EXISTS ${sqlName(`ix_${table.id}_home`)}; DROP INDEX IF EXISTS ${sqlName(`ix_${table.id}_label`)};
    CREATE INDEX ${sqlName(`ix_${table.id}_home`)} ON ${sqlName(table.id)} (company_id, ${sqlName(key)}); CREATE INDEX ${sqlName(`ix_${table.id}_label`)} ON ${sqlName(table.id)} (${sqlName(key)}, id)`);
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
    noted(file, owner, "table-added", id, name);
    return ok(id);
  });
}

/** The one that names records first; what is made from other fields is not taken along. */
function likeOf(table: Table): NewField[] {
  const own = table.fields.filter((f) => !isMadeFromAnother(f) && (!f.system || f.options.kept));
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

/** The id of a new field; refused where its name is taken or its settings are not sound. */
export function newField(file: PortalFile, owner: Owner, tableId: string, given: NewFieldGiven): Done<string> {
  return shaping(file, (): Done<string> => {
    const table = schemaOf(file).findTable(tableId);
    if (!table) return refused("This table is gone.");
    if (table.kind === "books") return refused(`${table.name} are written by Elkhorn, and by nobody else.`);
    const name = given.name.trim();
    const problem = nameProblem(table, name, null);
    if (problem) return refused(problem, "name");
    if (isRelation(given) && !schemaOf(file).findTable(given.options.target ?? ""))
      return refused("Choose the table that it points to.", "target");
    if (isMadeFromAnother(given) && !table.fields.some((f) => f.id === given.options.madeFrom))
      return refused("Choose the field that it is made from.", "madeFrom");
    const taken = takenSlugs(file, tableId);
    const id = addField(file, tableId, {
      slug: slugOf(name, "field", (s) => taken.has(s)),
      name,
      type: given.type,
      options: given.options,
    });
    noted(file, owner, "field-added", tableId, name);
    return ok(id);
  });
}

/** Slugs in use, those of fields that are put away included. */
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

/** Changes a field's name and settings, not its type. Refused where values that are there would no longer fit. */
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
    noted(file, owner, "field-changed", table.id, name);
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
      `SELECT ${sqlName(field.id)} FROM ${sqlName(table.id)} WHERE ${sqlName(column)} IS NOT NULL GROUP BY ${sqlName(column)}${within} HAVING count(*) > 1 LIMIT 5`,
    )
    .pluck()
    .all()
    .map((v) => `“${String(v).slice(0, 60)}”`);
}

/** Moves a field one place up or down among the table's fields. */
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
