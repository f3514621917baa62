/**
 * One viewer's desk: the file, the rules and the viewer together, and all that they may do with records. Rooms work at a desk and at
 * nothing else; that a record of another company does not lie on it is decided below, in one place.
 */

import type { Act } from "@/core/access/act";
import type { Policy } from "@/core/access/policy";
import { type Doing, doingOf } from "@/core/access/rules";
import { knownFields, type Scope, scope } from "@/core/access/scope";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import type { Via } from "@/core/events/event";
import type { Result } from "@/core/result";
import type { SeenRecord } from "@/core/schema/seen";
import { type Field, kindOf, type Schema, type Table } from "@/core/schema/types";
import type { Access } from "../access";
import type { PortalFile } from "../file/open";
import { type Accepted, acceptancesOf, versionNow } from "./accept";
import { addressOfRecord, readByAddress } from "./by-address";
import { countRecords } from "./counting/count";
import { type Happened, historyOf } from "./history";
import { whereMay } from "./query/may";
import { eachRecord, firstOf, listRecords, type Page, type Paged, type PageQuery, pageOf, readRecord } from "./query/read";
import type { ListQuery } from "./query/where";
import { conversationOf, type Spoken, sayIn, type TalkError } from "./talk";
import { type Done, doAct } from "./write/act";
import { restoreRecord } from "./write/bin";
import { automaticCompany, type Given, type WriteError } from "./write/incoming";
import { type Removal, removeRecord } from "./write/remove";
import { undoAct } from "./write/undo-act";
import { addRecord, type Changed, changeableFields, changeRecord } from "./write/write";

export class Desk<V extends Viewer = Viewer> implements Access {
  constructor(
    readonly file: PortalFile,
    readonly policy: Policy,
    readonly viewer: V,
    readonly via: Via = "page",
  ) {}

  readonly counted = new Map<string, number>();
  /** What was counted before a write counts no more. */
  private wrote<T>(done: T): T {
    this.counted.clear();
    return done;
  }

  get schema(): Schema {
    return this.policy.schema;
  }
  /** Milliseconds since the epoch. Nothing below a route asks the clock: a rehearsal has a time of its own. */
  get now(): number {
    return this.viewer.now;
  }

  scope = (table: Table, action: Doing = "see"): Scope => scope(this.policy, this.viewer, table.id, action);

  /** Whether there is anything of the table that the viewer may do this with. */
  may(table: Table, action: Doing): boolean {
    const s = this.scope(table, action);
    return s.everything || s.grants.length > 0;
  }

  /** Fields that the viewer may know to exist, in the table's order. */
  known(table: Table, action: Doing = "see"): Field[] {
    const ids = new Set(knownFields(this.policy, this.viewer, table.id, action));
    return table.fields.filter((f) => ids.has(f.id));
  }
  knows = (table: Table, field: Field): boolean => knownFields(this.policy, this.viewer, table.id).includes(field.id);

  /** Fields that the viewer may give a value on adding, or on changing some record. The server decides again for the record itself. */
  settable(table: Table, action: "add" | "change"): Field[] {
    const s = this.scope(table, action);
    const automatic = automaticCompany(this.policy, this.viewer, table.id);
    const listed = new Set(s.grants.flatMap((g) => g.grant.changes));
    return table.fields.filter((f) => !f.system && f.id !== automatic && (s.everything || listed.has(f.id)));
  }
  /** Fields that a request may name at all: others are told to it as not there. */
  nameable(table: Table): Field[] {
    const ids = new Set([...this.known(table), ...this.settable(table, "add"), ...this.settable(table, "change")].map((f) => f.id));
    return table.fields.filter((f) => ids.has(f.id));
  }
  sortable = (table: Table): Field[] => this.known(table).filter((f) => kindOf(f).sortable);

  /** What a record is called, or its kind where its name is hidden or empty. */
  label = (table: Table, record: SeenRecord): string => labelIn(table, record) ?? table.singular;
  /** The name of one record that the viewer sees. */
  labelOf(table: Table, id: string): string | undefined {
    const found = this.read(table, id);
    return found && labelIn(table, found);
  }

  list = (table: Table, q: ListQuery): Page => listRecords(this, table.id, q);
  /** All records of a list, piece by piece. Nothing may be written through this file handle until it ends. */
  each = (table: Table, q: ListQuery): Generator<SeenRecord[]> => eachRecord(this, table.id, q);
  /** The first records, and how many there are. */
  first = (table: Table, q: Omit<ListQuery, "offset" | "after">): { records: SeenRecord[]; total: number } => firstOf(this, table.id, q);
  /** A page by number with the whole count, both of one WHERE. */
  page = (table: Table, q: PageQuery): Paged => pageOf(this, table.id, q);
  count = (table: Table, q: Omit<ListQuery, "limit"> = {}): number => countRecords(this, table.id, q);
  read = (table: Table, id: string): SeenRecord | undefined => readRecord(this, table.id, id);
  readByAddress = (table: Table, address: string): SeenRecord | undefined => readByAddress(this, table, address);
  addressOf = (table: Table, record: SeenRecord): string => addressOfRecord(this, table, record);

  /** What happened to a record, in what the viewer could have read at the time. */
  history = (table: Table, id: string, only: ReadonlySet<string> | null = null): Happened[] => historyOf(this, table, id, only);

  /** Null where no act opens a conversation about it to the viewer. */
  conversation = (table: Table, id: string): Spoken[] | null => conversationOf(this, table, id);
  say = (table: Table, id: string, words: string, inside: boolean, files: readonly string[] = []): Result<string, TalkError> =>
    this.wrote(sayIn(this, table, id, words, inside, files));

  add = (table: Table, given: Given): Result<{ id: string }, WriteError> => this.wrote(addRecord(this, table.id, given));
  change = (table: Table, id: string, given: Given, seen: string | null): Result<Changed, WriteError> =>
    this.wrote(changeRecord(this, table.id, id, given, seen));
  remove = (table: Table, id: string, seen: string | null = null): Result<Removal, WriteError> =>
    this.wrote(removeRecord(this, table.id, id, seen));
  /** Acts on the table that some grant opens. */
  acts = (table: Table): Act[] => (this.policy.rules.acts ?? []).filter((a) => a.table === table.id && this.may(table, doingOf(a)));
  act = (act: Act, id: string | null, given: Given = {}): Result<Done, WriteError> => this.wrote(doAct(this, act, id, given));
  /** `seen` is the version that the viewer has before them. */
  accept = (act: Act, id: string, seen: string): Result<Done, WriteError> => this.wrote(doAct(this, act, id, {}, seen));
  /** Null where the viewer may not read all that is accepted. */
  versionNow = (table: Table, id: string, act: Act): string | null => versionNow(this, table, id, act);
  acceptances = (table: Table, id: string, acts: readonly Act[]): Accepted[] => acceptancesOf(this, table, id, acts);
  undoAct = (event: number): Result<{ id: string }, "gone" | "changed"> => this.wrote(undoAct(this, event));
  /** Of these records, those with which the viewer may do this (or change this field): for showing controls, never for protecting. */
  whereMay = (table: Table, doing: Doing, ids: readonly string[], field?: string): Set<string> =>
    whereMay(this, table.id, doing, ids, field);
  /** Fields of this very record that the viewer may change: for showing a control, never for protecting. */
  changeable(table: Table, id: string): Field[] {
    const ids = new Set(changeableFields(this, table.id, id));
    return table.fields.filter((f) => ids.has(f.id));
  }
}

function labelIn(table: Table, record: SeenRecord): string | undefined {
  const v = record.fields[table.labelFieldId];
  return v === null || v === undefined || v === "" ? undefined : String(v);
}

/** The agency's owner at their desk. */
export type OwnerDesk = Desk<Owner>;

/** Undo of a removal. */
export const restore = (d: OwnerDesk, id: string): Result<null, WriteError> => restoreRecord(d, id);
