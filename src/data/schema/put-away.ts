/** Tables and fields that are put away, brought back with what the rules said of them, and removed for good. */

import { and, eq, isNotNull } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { ok } from "@/core/result";
import { isAutomatic, isMadeFromAnother } from "@/core/schema/fields/natures";
import { type Field, type Table, targetOf } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { changeDraft, draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { reshape } from "../definition/reshape";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { type AwayRules, grantsIn, listedIn, readAwayRules, rulesOf, withAwayRules } from "../tables/away-rules";
import { dropField, dropTable } from "../tables/drop";
import { hasColumn, linkTableName } from "../tables/physical";
import { fieldOf, schemaOf } from "../tables/read";
import { brokenWithout, withoutField, withoutTable } from "./references";
import { nameProblem } from "./shape";
import { type Done, noted, refused, shaping, touched } from "./shaping";

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
    if (isMadeFromAnother(f) && f.options.madeFrom === field.id) breaks.add(`the field ${f.name} is made from it`);
  const listing = live.grants.filter((g) => g.fields.includes(field.id) || g.changes.includes(field.id)).length;
  const follows =
    listing === 0 ? [] : [`${listing === 1 ? "One grant lists it and no longer will" : `${listing} grants list it and no longer will`}`];
  const [from, column] = hasColumn(field) ? [field.tableId, field.id] : [linkTableName(field), "target_id"];
  const filled = file.db
    .prepare(`SELECT count(*) FROM ${sqlName(from)} WHERE ${sqlName(column)} IS NOT NULL`)
    .pluck()
    .get() as number;
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
    const was = rulesNow(file, owner, (d) => ({ field: listedIn(d, id) }));
    file.orm.update(t.fields).set({ away: owner.now }).where(eq(t.fields.id, id)).run();
    touched(file);
    const done = followed(file, owner, (d) => withoutField(d, id), `The field ${field.name} was put away`);
    keepRules(file, t.fields, id, was);
    return done;
  });
}
const isOwn = (f: Field): boolean => f.options.kept !== undefined || isAutomatic(f);

function followed(file: PortalFile, owner: Owner, edit: (d: Definition) => Definition, why: string): Done {
  const done = reshape(file, owner, edit, why);
  if (!done.ok) return refused(`It cannot go while the rules speak of it: ${done.error.join(" ")}`);
  record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "reshaped", detail: why });
  return ok(null);
}

type Was = (d: Definition) => AwayRules["live"];

const rulesNow = (file: PortalFile, owner: Owner, was: Was): Omit<AwayRules, "version"> => ({
  live: was(published(file).definition),
  draft: was(draftOf(file, owner).definition),
});

function keepRules(file: PortalFile, of: typeof t.fields | typeof t.tables, id: string, was: Omit<AwayRules, "version">): void {
  const rules: AwayRules = { version: published(file).version, ...was };
  file.orm
    .update(of)
    .set({ awayRules: JSON.stringify(rules) })
    .where(eq(of.id, id))
    .run();
}

/** What came back with a table or field: its grants at once, in the draft, or none. */
export type CameBack =
  | { readonly grants: number; readonly in: "live" | "draft" }
  | { readonly grants: 0; readonly in: "none"; readonly why: string[] };

/**
 * The rules that were kept come back. Where nothing was published since, they are live again at once: that is the undo. Otherwise they stand
 * in the draft, so that the owner sees their impact before anybody sees more.
 */
function rulesBack(file: PortalFile, owner: Owner, kept: readonly (readonly [string, AwayRules])[], why: string): CameBack {
  const fields = new Set(schemaOf(file).tables.flatMap((x) => x.fields.map((f) => f.id)));
  const edit = (d: Definition, which: "live" | "draft"): Definition =>
    kept.reduce((x, [id, rules]) => withAwayRules(x, id, rules[which], fields), d);
  const grants = kept.reduce((n, [, rules]) => n + grantsIn(rules.draft), 0);
  if (grants === 0) return { grants: 0, in: "none", why: [] };
  if (kept.every(([, rules]) => rules.version === published(file).version)) {
    const done = reshape(file, owner, edit, why);
    return done.ok ? { grants, in: "live" } : { grants: 0, in: "none", why: done.error };
  }
  const done = changeDraft(file, owner, draftOf(file, owner).revision, (d) => edit(d, "draft"), why);
  if (done.ok) return { grants, in: "draft" };
  return { grants: 0, in: "none", why: done.error.code === "invalid" ? done.error.messages : [] };
}

export interface AwayField {
  readonly id: string;
  readonly name: string;
  readonly type: Field["type"];
  readonly away: number;
}

/** Fields of a table that are put away, with when. */
export const fieldsAway = (file: PortalFile, _owner: Owner, tableId: string): AwayField[] =>
  file.orm
    .select()
    .from(t.fields)
    .where(and(eq(t.fields.tableId, tableId), isNotNull(t.fields.away)))
    .all()
    .map((row) => ({ id: row.id, name: row.name, type: row.type as Field["type"], away: row.away! }));

/** A field that was archived, with the rules that named it, as far as they still can be. */
export function bringFieldBack(file: PortalFile, owner: Owner, id: string): Done<CameBack> {
  return shaping(file, () => {
    const row = file.orm.select().from(t.fields).where(eq(t.fields.id, id)).get();
    const table = row && schemaOf(file).findTable(row.tableId);
    if (!row?.away || !table) return refused("This field is not put away.");
    const target = targetOf(fieldOf(row));
    if (target && !schemaOf(file).findTable(target)) return refused("The table that it points to is put away. Bring that back first.");
    if (nameProblem(table, row.name, id)) return refused(`There is another field called ${row.name} now. Rename that first.`);
    const rules = readAwayRules(row.awayRules);
    file.orm.update(t.fields).set({ away: null, awayRules: null }).where(eq(t.fields.id, id)).run();
    touched(file);
    noted(file, owner, "field-brought-back", table.id, row.name);
    return ok(rulesBack(file, owner, rules ? [[id, rules]] : [], `The field ${row.name} was brought back`));
  });
}

/** For good, with its values. Only what is put away can go. */
export function removeField(file: PortalFile, owner: Owner, id: string): Done {
  return shaping(file, () => {
    const row = file.orm.select().from(t.fields).where(eq(t.fields.id, id)).get();
    if (!row?.away) return refused("Put the field away first.");
    dropField(file, id);
    noted(file, owner, "field-removed", row.tableId, row.name);
    return ok(null);
  });
}

export interface LeavingTable extends Leaving {
  readonly records: number;
}

/** What archiving a table would break, and how many records it has. */
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
  const records = file.db
    .prepare(`SELECT count(*) FROM ${sqlName(table.id)}`)
    .pluck()
    .get() as number;
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
    const was = rulesNow(file, owner, (d) => ({ table: rulesOf(d, id) }));
    const pointed = towards.map((f) => [f.id, rulesNow(file, owner, (d) => ({ field: listedIn(d, f.id) }))] as const);
    for (const f of towards) file.orm.update(t.fields).set({ away: owner.now }).where(eq(t.fields.id, f.id)).run();
    file.orm.update(t.tables).set({ away: owner.now }).where(eq(t.tables.id, id)).run();
    touched(file);
    const done = followed(
      file,
      owner,
      (d) => towards.reduce((x, f) => withoutField(x, f.id), withoutTable(d, id)),
      `The table ${table.name} was put away`,
    );
    keepRules(file, t.tables, id, was);
    for (const [field, its] of pointed) keepRules(file, t.fields, field, its);
    return done;
  });
}

export interface AwayTable {
  readonly id: string;
  readonly name: string;
  readonly away: number;
  readonly records: number;
}

/** Tables that are put away, with when. */
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
      records: file.db
        .prepare(`SELECT count(*) FROM ${sqlName(row.id)}`)
        .pluck()
        .get() as number,
    }));

/** With the relations that went with it, and with its rules as `rulesBack` says. */
export function bringTableBack(file: PortalFile, owner: Owner, id: string): Done<CameBack> {
  return shaping(file, () => {
    const row = file.orm.select().from(t.tables).where(eq(t.tables.id, id)).get();
    if (!row?.away) return refused("This table is not put away.");
    const schema = schemaOf(file);
    if (schema.tables.some((x) => x.name.toLowerCase() === row.name.toLowerCase()))
      return refused(`There is another table called ${row.name} now. Rename that first.`);
    const there = new Set(schema.tables.map((x) => x.id));
    const rules = readAwayRules(row.awayRules);
    const kept: [string, AwayRules][] = rules ? [[id, rules]] : [];
    file.orm.update(t.tables).set({ away: null, awayRules: null }).where(eq(t.tables.id, id)).run();
    for (const f of file.orm.select().from(t.fields).where(eq(t.fields.away, row.away)).all())
      if (targetOf(fieldOf(f)) === id && there.has(f.tableId)) {
        const its = readAwayRules(f.awayRules);
        if (its) kept.push([f.id, its]);
        file.orm.update(t.fields).set({ away: null, awayRules: null }).where(eq(t.fields.id, f.id)).run();
      }
    touched(file);
    noted(file, owner, "table-brought-back", id, row.name);
    return ok(rulesBack(file, owner, kept, `The table ${row.name} was brought back`));
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
    noted(file, owner, "table-removed", id, row.name);
    return ok(null);
  });
}
