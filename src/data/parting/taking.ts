/** What a person or company had, taken over by the one that stays: places, way in, messages, values, files. Each change is noted. */

import { holdsFiles, isAutomatic } from "@/core/schema/fields/natures";
import { type Field, isEmpty, type Table } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { fieldsOf } from "../making/move";
import type { Journal } from "../tables/journal";
import { decodeValue, hasColumn, isFolded, keyName } from "../tables/physical";
import { schemaOf } from "../tables/read";

export type RawRow = Readonly<Record<string, string | number | null>>;

/** Filled from who they are elsewhere, or never taken over. */
const OWN: ReadonlySet<string> = new Set(["f_person_email", "f_person_status", "f_person_companies", "f_person_shown", "f_company_slug"]);

interface Place {
  readonly id: string;
  readonly company_id: string | null;
  readonly roles: string;
}
const placesOf = (file: PortalFile, person: string): Place[] =>
  file.db.prepare("SELECT id, company_id, roles FROM sys_memberships WHERE person_id = ?").all(person) as Place[];

const united = (a: string, b: string): string =>
  JSON.stringify([...new Set([...(JSON.parse(a) as string[]), ...(JSON.parse(b) as string[])])]);

/** Where both are in one company, the roles of both are held. */
export function takePlaces(file: PortalFile, journal: Journal, stays: string, goes: string): number {
  const own = new Map(placesOf(file, stays).map((m) => [m.company_id, m]));
  const others = placesOf(file, goes);
  for (const m of others) {
    const same = own.get(m.company_id);
    endSessions(file, "membership_id", m.id);
    if (same) {
      journal.set("sys_memberships", "roles", [same.id], same.roles, united(same.roles, m.roles));
      journal.remove("sys_memberships", "id", m.id);
    } else journal.set("sys_memberships", "person_id", [m.id], goes, stays);
  }
  takeWords(file, journal, "author_id", stays, goes);
  return others.length;
}

export function takePeople(file: PortalFile, journal: Journal, stays: string, goes: string): number {
  const of = (company: string) =>
    file.db.prepare("SELECT id, person_id, roles FROM sys_memberships WHERE company_id = ?").all(company) as (Place & {
      person_id: string;
    })[];
  const there = new Map(of(stays).map((m) => [m.person_id, m]));
  const others = of(goes);
  for (const m of others) {
    const same = there.get(m.person_id);
    if (same) {
      endSessions(file, "membership_id", m.id);
      journal.set("sys_memberships", "roles", [same.id], same.roles, united(same.roles, m.roles));
      journal.remove("sys_memberships", "id", m.id);
    } else journal.set("sys_memberships", "company_id", [m.id], goes, stays);
  }
  takeWords(file, journal, "company_id", stays, goes);
  return others.length;
}

/** What was written in conversations goes with whoever it was written by, or the company whose record it is about. */
export function takeWords(file: PortalFile, journal: Journal, column: "company_id" | "author_id", stays: string, goes: string): void {
  for (const table of ["sys_talk", "sys_acceptances"] as const) {
    const ids = file.db.prepare(`SELECT id FROM ${table} WHERE ${column} = ?`).pluck().all(goes) as string[];
    if (ids.length > 0) journal.set(table, column, ids, goes, stays);
  }
}

/** Sessions are never brought back: whoever was in signs in anew. */
export const endSessions = (file: PortalFile, column: "person_id" | "membership_id", id: string): void =>
  void file.db.prepare(`DELETE FROM sys_sessions WHERE ${column} = ?`).run(id);

export const SIGN_IN = ["sys_credentials", "sys_factors", "sys_recovery", "sys_codes", "sys_links", "sys_accounts"] as const;

/** Who stays keeps their own sign-in; without one they take over the other's. Returns whether a sign-in ends. */
export function takeSignIn(file: PortalFile, journal: Journal, stays: string, goes: string): boolean {
  endSessions(file, "person_id", goes);
  const has = (id: string): boolean =>
    file.db
      .prepare("SELECT 1 FROM sys_credentials WHERE person_id = @id UNION SELECT 1 FROM sys_factors WHERE person_id = @id")
      .get({ id }) !== undefined;
  const [own, other] = [has(stays), has(goes)];
  for (const table of SIGN_IN) {
    const rows = journal.remove(table, "person_id", goes);
    if (!own && table !== "sys_links" && table !== "sys_codes") for (const r of rows) journal.insert(table, { ...r, person_id: stays });
  }
  for (const r of journal.remove("sys_outside", "person_id", goes)) journal.insert("sys_outside", { ...r, person_id: stays });
  for (const r of journal.remove("sys_agreements", "person_id", goes)) journal.insert("sys_agreements", { ...r, person_id: stays });
  for (const r of journal.remove("sys_reads", "person_id", goes)) journal.insert("sys_reads", { ...r, person_id: stays });
  // Where both have a view of the same name, the one of whoever stays is kept.
  for (const r of journal.remove("sys_kept_views", "person_id", goes)) {
    const there = file.db
      .prepare("SELECT 1 FROM sys_kept_views WHERE person_id = ? AND section = ? AND name = ?")
      .get(stays, r.section, r.name);
    if (!there) journal.insert("sys_kept_views", { ...r, person_id: stays });
  }
  return own && other;
}

export function takeMessages(file: PortalFile, journal: Journal, stays: string | null, goes: string): number {
  const ids = (state: string): string[] =>
    file.db.prepare(`SELECT id FROM sys_messages WHERE person_id = ? AND state ${state}`).pluck().all(goes) as string[];
  // What has not gone out would lead to a way in that is over.
  journal.set("sys_messages", "state", ids("= 'ready'"), "ready", "failed");
  journal.set("sys_messages", "state", ids("= 'waiting'"), "waiting", "failed");
  const all = ids("<> ''");
  if (stays) journal.set("sys_messages", "person_id", all, goes, stays);
  return all.length;
}

/** What it has paid for goes along where the other has nothing; numbers in order go on from the higher. */
export function takeCompany(file: PortalFile, journal: Journal, stays: string, goes: string): void {
  const { db } = file;
  const paid = db.prepare("SELECT 1 FROM sys_subscriptions WHERE company_id = ?").get(stays) !== undefined;
  for (const r of journal.remove("sys_subscriptions", "company_id", goes))
    if (!paid) journal.insert("sys_subscriptions", { ...r, company_id: stays });
  for (const table of ["sys_buyers", "sys_customers"])
    for (const r of journal.remove(table, "company_id", goes)) if (!paid) journal.insert(table, { ...r, company_id: stays });
  for (const table of ["sys_opened", "sys_top_ups", "sys_credit", "sys_worth"])
    for (const r of journal.remove(table, "company_id", goes)) journal.insert(table, { ...r, company_id: stays });
  for (const r of journal.remove("sys_counters", "company_id", goes)) {
    const now = db.prepare("SELECT n FROM sys_counters WHERE field_id = ? AND company_id = ?").pluck().get(r.field_id, stays) as
      | number
      | undefined;
    if (now === undefined) journal.insert("sys_counters", { ...r, company_id: stays });
    else if (now < Number(r.n))
      db.prepare("UPDATE sys_counters SET n = ? WHERE field_id = ? AND company_id = ?").run(r.n, r.field_id, stays);
  }
  for (const r of journal.remove("sys_allowance_uses", "company_id", goes))
    journal.insert("sys_allowance_uses", { ...r, company_id: stays });
  for (const r of journal.remove("sys_old_slugs", "company_id", goes)) journal.insert("sys_old_slugs", { ...r, company_id: stays });
}

export function fill(journal: Journal, table: Table, fields: readonly Field[], keep: RawRow, gone: RawRow) {
  const filled: string[] = [];
  const differing: { field: string; stays: string; goes: string }[] = [];
  const says = (f: Field, raw: string | number | null): string => {
    const v = decodeValue(f, raw);
    return isEmpty(v) || Array.isArray(v) || f.options.target || f.options.choices ? "" : String(v).slice(0, 120);
  };
  for (const f of fields) {
    if (!hasColumn(f) || f.options.kept) continue;
    const [a, b] = [keep[f.id] ?? null, gone[f.id] ?? null];
    if (b === null || a === b) continue;
    if (a === null && !OWN.has(f.id) && !isAutomatic(f)) {
      journal.set(table.id, f.id, [String(keep.id)], null, b);
      if (isFolded(f)) journal.set(table.id, keyName(f.id), [String(keep.id)], null, gone[keyName(f.id)] ?? null);
      filled.push(f.name);
    } else if (a !== null && says(f, a)) differing.push({ field: f.name, stays: says(f, a), goes: says(f, b) });
  }
  return { filled, differing };
}

export function takeFiles(file: PortalFile, journal: Journal, stays: string, goes: string): void {
  for (const f of fieldsOf(file, schemaOf(file).people.id).concat(fieldsOf(file, schemaOf(file).companies.id))) {
    if (!holdsFiles(f)) continue;
    const held = file.db
      .prepare(`SELECT ${sqlName(f.id)} FROM ${sqlName(f.tableId)} WHERE id = ?`)
      .pluck()
      .get(stays) as string | undefined;
    if (!held) continue;
    const ids = (JSON.parse(held) as string[]).filter(
      (id) => file.db.prepare("SELECT 1 FROM sys_files WHERE id = ? AND record_id = ?").get(id, goes) !== undefined,
    );
    journal.set("sys_files", "record_id", ids, goes, stays);
  }
}
