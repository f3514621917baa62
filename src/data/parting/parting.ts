/**
 * Two records of one person, or of one company, become one; and a person is removed, with what becomes of all that points to them. Either is
 * tried first by being done and undone. What is gone lies in the bin, from where the whole is taken back.
 */

import type { Owner } from "@/core/access/who/viewer";
import { actorOf, actorText } from "@/core/events/event";
import type { Result } from "@/core/result";
import type { Field, Table } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { record } from "../events/record";
import { attempt, refuse } from "../file/attempt";
import { FULL } from "../file/full";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import * as t from "../file/portal-tables";
import { fieldsOf } from "../making/move";
import type { Parted } from "../records/write/restore-parted";
import { uniqueFields } from "../records/write/unique";
import { repeated } from "../schema/shape";
import { storeCompanies } from "../tables/company";
import { Journal } from "../tables/journal";
import { hasColumn, isFolded, keyName } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { leadElsewhere, leaveOwnLinks, namedInRules, pointersTo } from "./pointers";
import {
  endSessions,
  fill,
  type RawRow,
  SIGN_IN,
  takeCompany,
  takeFiles,
  takeMessages,
  takePeople,
  takePlaces,
  takeSignIn,
} from "./taking";

export interface PartingTrial {
  readonly name: string;
  /** Who takes over, if anybody does. */
  readonly to: string | null;
  /** Relations that point elsewhere, or nowhere, from then on: by field and table. */
  readonly pointing: readonly { readonly field: string; readonly table: string; readonly records: number }[];
  /** For a person: their memberships. For a company: its people. */
  readonly places: number;
  readonly filled: readonly string[];
  /** Fields that both have a value in: the one that stays, and the one that goes. */
  readonly differing: readonly { readonly field: string; readonly stays: string; readonly goes: string }[];
  /** Records that they made; these go on saying so by their name in the log alone. */
  readonly made: number;
  readonly messages: number;
  readonly signsIn: boolean;
}

export type Leaving = { readonly kind: "hand"; readonly to: string } | { readonly kind: "clear" } | { readonly kind: "keep" };

function tried(file: PortalFile, really: boolean, act: () => PartingTrial): Result<PartingTrial, string> {
  const work = (): PartingTrial => {
    const trial = act();
    if (really) reached("parting: it is done");
    return trial;
  };
  return attempt(file, work, { really, full: FULL });
}

const rawRow = (file: PortalFile, table: string, id: string): RawRow | undefined =>
  file.db.prepare(`SELECT * FROM ${sqlName(table)} WHERE id = ?`).get(id) as RawRow | undefined;

const kindTable = (file: PortalFile, of: "people" | "companies"): Table =>
  of === "people" ? schemaOf(file).people : schemaOf(file).companies;

/** `goes` becomes part of `stays`: what is empty of it is filled, places and relations, links and files are its own from then on. */
export function mergeInto(
  file: PortalFile,
  owner: Owner,
  of: "people" | "companies",
  stays: string,
  goes: string,
  really: boolean,
): Result<PartingTrial, string> {
  return tried(file, really, () => {
    const table = kindTable(file, of);
    const [keep, gone] = [rawRow(file, table.id, stays), rawRow(file, table.id, goes)];
    if (!keep || !gone || stays === goes) refuse(`Choose two different ${of}.`);
    refuseNamed(file, owner, table, gone);
    const journal = new Journal(file.db);
    const fields = fieldsOf(file, table.id);
    const pointing = pointersTo(file, table.id, goes);
    const made = madeBy(file, goes);
    // The row goes first, so that nothing of it is in the way of what is unlike all others; what points to it is led on in the same act.
    file.db.pragma("defer_foreign_keys = ON");
    leaveOwnLinks(journal, fields, goes, stays);
    leadElsewhere(journal, pointing, goes, stays);
    const places = of === "people" ? takePlaces(file, journal, stays, goes) : takePeople(file, journal, stays, goes);
    const signsIn = of === "people" && takeSignIn(file, journal, stays, goes);
    const messages = of === "people" ? takeMessages(file, journal, stays, goes) : 0;
    if (of === "companies") takeCompany(file, journal, stays, goes);
    const { filled, differing } = fill(journal, table, fields, keep, gone);
    takeFiles(file, journal, stays, goes);
    journal.remove(table.id, "id", goes);
    for (const f of uniqueFields(table)) {
      const twice = repeated(file, table, f);
      if (twice.length > 0) refuse(`${f.name} would stand more than once, where all must be unlike: ${twice.join(", ")}.`);
    }
    const label = String(gone[table.labelFieldId] ?? "");
    end(file, owner, { table, id: goes, label, parted: { parting: "merged", to: stays, noted: journal.noted } });
    record(file, {
      actor: actorOf(owner),
      via: "page",
      at: owner.now,
      kind: "record-took-over",
      table: table.id,
      record: stays,
      detail: goes,
    });
    return {
      name: label,
      to: String(keep[table.labelFieldId] ?? ""),
      pointing: pointing.map((p) => told(file, p.field, p.records.length)),
      places,
      filled,
      differing,
      made,
      messages,
      signsIn,
    };
  });
}

/** The rules may name a record by its id, or give a company roles of its own: those are for the owner to change. */
function refuseNamed(file: PortalFile, owner: Owner, table: Table, row: RawRow): void {
  const rules = [published(file).definition, draftOf(file, owner).definition];
  if (namedInRules(String(row.id), rules))
    refuse(`The rules speak of ${String(row[table.labelFieldId] ?? "it")} by itself: a role, a filter or a safeguard. Change those first.`);
}

const told = (file: PortalFile, field: Field, records: number) => ({
  field: field.name,
  table: schemaOf(file).findTable(field.tableId)?.name ?? "a table that is put away",
  records,
});

const madeBy = (file: PortalFile, id: string): number =>
  schemaOf(file).tables.reduce(
    (n, x) =>
      n +
      (file.db
        .prepare(`SELECT count(*) FROM ${sqlName(x.id)} WHERE created_by = ?`)
        .pluck()
        .get(id) as number),
    0,
  );

/** The bin takes what is gone; whose a record is may differ for all that pointed to it. */
function end(file: PortalFile, owner: Owner, of: { table: Table; id: string; label: string; parted: Parted }): void {
  const { policy } = published(file);
  for (const x of policy.schema.tables) storeCompanies(file, policy, x.id);
  const at = new Date(owner.now).toISOString();
  const kind = of.parted.parting === "merged" ? "record-merged" : "record-removed";
  const actId = record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind, table: of.table.id, record: of.id });
  const binned = {
    tableId: of.table.id,
    body: JSON.stringify(of.parted),
    at,
    label: of.label.slice(0, 200),
    removedBy: actorText(actorOf(owner)),
    actId,
  };
  // Of whom only the name was left, and who goes altogether by now, the earlier step cannot be taken back any more.
  file.orm
    .insert(t.removed)
    .values({ recordId: of.id, ...binned })
    .onConflictDoUpdate({ target: t.removed.recordId, set: binned })
    .run();
}

/** Removes a person or company, for good after thirty days. Relations to them are handed to somebody else, emptied, or keep their name only. */
export function removePerson(file: PortalFile, owner: Owner, id: string, leaving: Leaving, really: boolean): Result<PartingTrial, string> {
  return tried(file, really, () => {
    const table = schemaOf(file).people;
    const row = rawRow(file, table.id, id);
    if (!row) refuse("This person is gone already.");
    const to = leaving.kind === "hand" ? rawRow(file, table.id, leaving.to) : undefined;
    if (leaving.kind === "hand" && (!to || leaving.to === id)) refuse("Choose somebody else whom it is handed to.");
    if (leaving.kind !== "keep") refuseNamed(file, owner, table, row);
    const journal = new Journal(file.db);
    const pointing = pointersTo(file, table.id, id);
    const made = madeBy(file, id);
    file.db.pragma("defer_foreign_keys = ON");
    endSessions(file, "person_id", id);
    const places = journal.remove("sys_memberships", "person_id", id).length;
    let signsIn = false;
    for (const x of [...SIGN_IN, "sys_outside"] as const) signsIn = journal.remove(x, "person_id", id).length > 0 || signsIn;
    const messages = takeMessages(file, journal, null, id);
    if (leaving.kind === "keep") keepName(journal, table, row);
    else {
      leadElsewhere(journal, pointing, id, leaving.kind === "hand" ? leaving.to : null);
      leaveOwnLinks(journal, fieldsOf(file, table.id), id, null);
      journal.remove(table.id, "id", id);
    }
    const label = String(row[table.labelFieldId] ?? "");
    end(file, owner, {
      table,
      id,
      label,
      parted: { parting: "removed", to: leaving.kind === "hand" ? leaving.to : null, noted: journal.noted },
    });
    return {
      name: label,
      to: to ? String(to[table.labelFieldId] ?? "") : null,
      pointing: leaving.kind === "keep" ? [] : pointing.map((p) => told(file, p.field, p.records.length)),
      places,
      filled: [],
      differing: [],
      made,
      messages,
      signsIn,
    };
  });
}

/** Only the name is left, so that records go on saying whom they speak of. */
function keepName(journal: Journal, table: Table, row: RawRow): void {
  const id = [String(row.id)];
  journal.set(table.id, "f_person_status", id, row.f_person_status ?? null, "inactive");
  for (const f of table.fields) {
    if (!hasColumn(f) || f.options.kept || f.id === table.labelFieldId || f.id === "f_person_status") continue;
    journal.set(table.id, f.id, id, row[f.id] ?? null, null);
    if (isFolded(f)) journal.set(table.id, keyName(f.id), id, row[keyName(f.id)] ?? null, null);
  }
}
