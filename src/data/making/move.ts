/**
 * The move itself, within one transaction: fields keep their ids and records theirs, relations lead to where the records are now. The
 * table that they were in goes; what stays a record goes on in a table of the same name.
 */

import { eq } from "drizzle-orm";
import { slugOf } from "@/core/address/slug";
import { holdsFiles, isRelation } from "@/core/schema/fields/natures";
import { type Field, isEmpty, type Table, targetOf, type Value } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import * as t from "../file/portal-tables";
import { addColumn, addField, indexUnique } from "../tables/change";
import { dropWords } from "../tables/drop";
import { exchangeColumn } from "../tables/exchange-column";
import { nextNumber } from "../tables/meta";
import { hasColumn, isFolded, keyName, linkTableName } from "../tables/physical";
import { fieldOf, schemaOf } from "../tables/read";
import { insertText, insertValues, storedValue } from "../tables/store";
import { builtIn, type Making, type OldRow } from "./ask";
import { keepAsRecords } from "./rest";

/** Every field of the registry that points to the table, put away or not. */
export const pointingFields = (file: PortalFile, table: string): Field[] =>
  file.orm
    .select()
    .from(t.fields)
    .all()
    .map(fieldOf)
    .filter((f) => targetOf(f) === table && !f.options.kept);

/** All fields of a table in its order, archived ones among them. */
export const fieldsOf = (file: PortalFile, table: string): Field[] =>
  file.orm.select().from(t.fields).where(eq(t.fields.tableId, table)).orderBy(t.fields.position).all().map(fieldOf);

/** Where each record that did not stay is now. */
export type Places = ReadonlyMap<string, string>;

/** What a relation held, by its record. */
type Pointers = readonly { readonly record: string; readonly to: string }[];

function pointersOf(file: PortalFile, f: Field): Pointers {
  const sql = hasColumn(f)
    ? `SELECT id AS record, ${sqlName(f.id)} AS "to" FROM ${sqlName(f.tableId)} WHERE ${sqlName(f.id)} IS NOT NULL`
    : `SELECT record_id AS record, target_id AS "to" FROM ${sqlName(linkTableName(f))}`;
  return file.db.prepare(sql).all() as { record: string; to: string }[];
}

export interface MovedOut {
  /** The table of what stayed, if anything did. */
  readonly rest: string | null;
  /** Fields that hold what pointed to records that stayed. */
  readonly beside: readonly string[];
}

export function move(file: PortalFile, m: Making, companySlug: (name: string, id: string) => string): MovedOut {
  const { table, target } = m;
  file.db.pragma("defer_foreign_keys = ON");
  const others = pointingFields(file, table.id).filter((f) => f.tableId !== table.id);
  const held = new Map(others.map((f) => [f.id, pointersOf(file, f)] as const));
  const ownLinks = new Map(m.fields.filter((f) => !hasColumn(f)).map((f) => [f.id, pointersOf(file, f)] as const));
  for (const f of others) {
    const next = { ...f, options: { ...f.options, target: target.id } } as Field;
    file.orm
      .update(t.fields)
      .set({ options: JSON.stringify(next.options) })
      .where(eq(t.fields.id, f.id))
      .run();
    if (hasColumn(f)) exchangeColumn(file, f, next);
    if (hasColumn(f) && f.options.unique) indexUnique(file, next);
  }
  reached("making: relations are turned");
  dropWords(file, table.id);
  dropWords(file, target.id);
  file.db.exec(`DROP TABLE ${sqlName(table.id)}`);
  file.orm.delete(t.tables).where(eq(t.tables.id, table.id)).run();
  const now = placeOf(m);
  const rest = keepAsRecords(file, m, ownLinks, now);
  const fields = moveFields(file, m);
  nextNumber(file, "schema_version");
  reached("making: fields have moved");
  insertRows(file, m, fields, now, companySlug);
  fillThose(file, m, fields, now);
  followLinks(file, m, now, ownLinks);
  followFiles(file, m, now);
  const beside = pointAgain(file, others, held, now, rest);
  leaveTraces(file, m, rest);
  return { rest, beside };
}

/** Where each record that did not stay is now: under its own id, or as somebody who was there. */
function placeOf(m: Making): Places {
  return new Map(m.fates.flatMap((f) => (f.kind === "stays" ? [] : [[f.row.id, f.kind === "new" ? f.row.id : f.id] as const])));
}

/** Those that go on as fields of people or companies, under their ids. What another field stands for now is gone. */
function moveFields(file: PortalFile, m: Making): Field[] {
  const instead = builtIn(m.ask);
  const there = fieldsOf(file, m.target.id);
  const names = new Set(there.map((f) => f.name.toLowerCase()));
  const slugs = new Set(there.map((f) => f.slug));
  const moved: Field[] = [];
  for (const f of m.fields) {
    if (instead.has(f.id)) {
      file.orm.delete(t.fields).where(eq(t.fields.id, f.id)).run();
      continue;
    }
    const name = names.has(f.name.toLowerCase()) ? `${f.name} (${m.table.name})`.slice(0, 80) : f.name;
    const slug = slugOf(f.slug, "field", (s) => slugs.has(s));
    const { required: _, ...options } = f.options;
    const source = f.options.madeFrom;
    const own = {
      ...options,
      ...(targetOf(f) === m.table.id ? { target: m.target.id } : {}),
      ...(source ? { madeFrom: instead.get(source) ?? source } : {}),
    };
    const next = { ...f, tableId: m.target.id, name, slug, options: own } as Field;
    names.add(name.toLowerCase());
    slugs.add(slug);
    file.orm
      .update(t.fields)
      .set({ tableId: next.tableId, name, slug, options: JSON.stringify(own), position: nextNumber(file, "positions") })
      .where(eq(t.fields.id, f.id))
      .run();
    if (hasColumn(next)) addColumn(file, next);
    moved.push(next);
  }
  return moved;
}

function valuesFor(m: Making, row: OldRow, fields: readonly Field[], now: Places): Record<string, Value> {
  // Relations between the records that move lead to the new people; one to a record that stays is dropped.
  const led = (f: Field): Value =>
    targetOf(f) === m.target.id && m.turned.has(f.id) ? (now.get(String(row.values[f.id])) ?? null) : row.values[f.id]!;
  const own = Object.fromEntries(fields.map((f) => [f.id, led(f) ?? null]));
  for (const [from, to] of Object.entries(m.ask.joins)) own[to] = row.values[from] ?? null;
  return own;
}

function insertRows(
  file: PortalFile,
  m: Making,
  fields: readonly Field[],
  now: Places,
  companySlug: (name: string, id: string) => string,
): void {
  const whole: Table = { ...m.target, fields: [...m.target.fields, ...fields] };
  const put = file.db.prepare(insertText(whole));
  for (const f of m.fates) {
    if (f.kind !== "new") continue;
    const { row } = f;
    const own = valuesFor(m, row, fields, now);
    const values =
      m.ask.into === "people"
        ? { ...own, f_person_name: f.name, f_person_email: f.email, f_person_status: "invited" }
        : { ...own, f_company_name: f.name, f_company_slug: companySlug(f.name, row.id) };
    put.run(...insertValues(whole, row.id, values, row.madeBy ?? "", row.madeAt ?? ""));
  }
}

/** A person who was there keeps their values; empty ones are filled from the first record that has them. */
function fillThose(file: PortalFile, m: Making, fields: readonly Field[], now: Places): void {
  const joined = Object.values(m.ask.joins).map((id) => m.target.fields.find((f) => f.id === id)!);
  for (const f of [...fields, ...joined].filter(hasColumn)) {
    if (f.options.kept) continue;
    const folded = isFolded(f);
    const put = file.db.prepare(
      `UPDATE ${sqlName(m.target.id)} SET ${sqlName(f.id)} = ?${folded ? `, ${sqlName(keyName(f.id))} = ?` : ""} WHERE id = ? AND ${sqlName(f.id)} IS NULL`,
    );
    for (const fate of m.fates) {
      const v = fate.kind === "there" ? valuesFor(m, fate.row, fields, now)[f.id] : null;
      if (fate.kind !== "there" || isEmpty(v as Value)) continue;
      const stored = storedValue(v);
      put.run(...(folded ? [stored, fold(String(stored))] : [stored]), fate.id);
    }
  }
}

/** Links of the records' own: they stand under record ids, which stay but for those who were there. */
function followLinks(file: PortalFile, m: Making, now: Places, links: ReadonlyMap<string, Pointers>): void {
  const instead = builtIn(m.ask);
  for (const f of m.fields) {
    if (hasColumn(f)) continue;
    const own = linkTableName(f);
    const to = instead.get(f.id);
    const itself = targetOf(f) === m.table.id;
    if (to) file.db.exec(`DROP TABLE ${sqlName(own)}`);
    else file.db.exec(`DELETE FROM ${sqlName(own)}`);
    if (to === "f_person_companies") continue;
    const put = file.db.prepare(`INSERT OR IGNORE INTO ${sqlName(to ? `l_${to}` : own)} (record_id, target_id) VALUES (?, ?)`);
    for (const l of links.get(f.id) ?? []) {
      const [record, target] = [now.get(l.record), itself ? now.get(l.to) : l.to];
      if (record && target) put.run(record, target);
    }
  }
}

function followFiles(file: PortalFile, m: Making, now: Places): void {
  const instead = builtIn(m.ask);
  const own = file.db.prepare("UPDATE sys_files SET field_id = ?, record_id = ? WHERE field_id = ? AND record_id = ?");
  for (const f of m.fields.filter(holdsFiles)) for (const [from, to] of now) own.run(instead.get(f.id) ?? f.id, to, f.id, from);
  const ids = file.db.prepare("UPDATE sys_files SET field_id = ? WHERE field_id = ?");
  for (const f of m.fields.filter(holdsFiles)) if (instead.has(f.id)) ids.run(instead.get(f.id), f.id);
}

/** Relations to the table lead to people now. What pointed to a record that stayed stands in a field beside, so that nothing is lost. */
function pointAgain(
  file: PortalFile,
  others: readonly Field[],
  held: ReadonlyMap<string, Pointers>,
  now: Places,
  rest: string | null,
): string[] {
  const beside: string[] = [];
  for (const f of others) {
    const pointers = held.get(f.id)!;
    if (hasColumn(f)) {
      const put = file.db.prepare(`UPDATE ${sqlName(f.tableId)} SET ${sqlName(f.id)} = ?, version = version + 1 WHERE id = ?`);
      for (const p of pointers) if (now.has(p.to)) put.run(now.get(p.to), p.record);
    } else {
      file.db.exec(`DELETE FROM ${sqlName(linkTableName(f))}`);
      const put = file.db.prepare(`INSERT OR IGNORE INTO ${sqlName(linkTableName(f))} (record_id, target_id) VALUES (?, ?)`);
      for (const p of pointers) if (now.has(p.to)) put.run(p.record, now.get(p.to));
    }
    const left = pointers.filter((p) => !now.has(p.to));
    if (left.length > 0 && rest) beside.push(pointBeside(file, f, left, rest));
  }
  return beside;
}

function pointBeside(file: PortalFile, f: Field, left: Pointers, rest: string): string {
  const there = fieldsOf(file, f.tableId);
  const name = `${f.name} (before)`.slice(0, 80);
  const slug = slugOf(`${f.slug}-before`, "field", (s) => there.some((x) => x.slug === s));
  const id = addField(file, f.tableId, { slug, name, type: f.type, options: { target: rest } });
  const next = schemaOf(file).findField(id) ?? fieldsOf(file, f.tableId).find((x) => x.id === id)!;
  const put =
    isRelation(next) && !hasColumn(next)
      ? file.db.prepare(`INSERT OR IGNORE INTO ${sqlName(linkTableName(next))} (target_id, record_id) VALUES (?, ?)`)
      : file.db.prepare(`UPDATE ${sqlName(f.tableId)} SET ${sqlName(id)} = ? WHERE id = ?`);
  for (const p of left) put.run(p.to, p.record);
  return id;
}

/** Addresses lead to the records' new places. Views of the table go, and its imports can no longer be undone. */
function leaveTraces(file: PortalFile, m: Making, rest: string | null): void {
  const { db } = file;
  const to = rest ?? m.target.id;
  db.prepare("UPDATE sys_old_addresses SET table_id = ? WHERE table_id = ?").run(to, m.table.id);
  if (!rest) db.prepare("INSERT OR REPLACE INTO sys_old_addresses (slug, table_id) VALUES (?, ?)").run(m.table.slug, m.target.id);
  db.prepare("DELETE FROM sys_views WHERE table_id = ?").run(m.table.id);
  // Where roles land, and what joining asks for, are kept as JSON with ids in it.
  const settings = db.prepare("UPDATE sys_settings SET value = replace(value, ?, ?)");
  for (const [from, at] of [[m.table.id, m.target.id] as const, ...builtIn(m.ask)]) settings.run(JSON.stringify(from), JSON.stringify(at));
  file.meta.look();
  const old = db.prepare("UPDATE sys_old_slugs SET record_id = ? WHERE record_id = ?");
  for (const f of m.fates) if (f.kind === "there") old.run(f.id, f.row.id);
}
