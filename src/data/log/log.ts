/** What happened in a portal, newest first, as the office reads it: who did what to which record of whom, and what was there before. */

import type { Owner } from "@/core/access/who/viewer";
import { eventWords } from "@/core/events/kinds";
import { toWords } from "@/core/exchange/present";
import { holdsFiles, isRelation } from "@/core/schema/fields/natures";
import type { SeenValue } from "@/core/schema/seen";
import { type Field, kindOf, type Schema } from "@/core/schema/types";
import { compareCodePoints, fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import { control, type PortalFile } from "../file/open";
import { schemaOf } from "../tables/read";

export interface LogAsked {
  /** "person:<id>", "staff:<id>", or a kind alone. */
  readonly who?: string | undefined;
  readonly company?: string | undefined;
  /** A kind of event, or `act:` and the id of an act of the agency's own. */
  readonly kind?: string | undefined;
  readonly table?: string | undefined;
  readonly record?: string | undefined;
  readonly words?: string | undefined;
  /** Only these. */
  readonly ids?: readonly number[] | undefined;
  /** Only what happened before this one. */
  readonly before?: number | undefined;
  readonly limit: number;
}

export interface LogRow {
  readonly id: number;
  readonly at: number;
  readonly who: string;
  /** As `LogAsked.who` takes it. */
  readonly actor: string;
  readonly via: string;
  readonly kind: string;
  /** The same in words. */
  readonly says: string;
  readonly table: { readonly id: string; readonly name: string; readonly slug: string } | null;
  readonly record: { readonly id: string; readonly name: string } | null;
  readonly company: { readonly id: string; readonly name: string } | null;
  readonly detail: string | null;
  readonly changes: readonly { readonly field: string; readonly before: string; readonly after: string }[];
}

interface Raw {
  id: number;
  at: number;
  kind: string;
  actor: string | null;
  via: string;
  act: string;
  tableId: string | null;
  recordId: string | null;
  companyId: string | null;
  detail: string | null;
  before: string | null;
  after: string | null;
}

/** Newest first, at most `asked.limit`. Each way of asking has an index, so that it takes as long whatever the log's length. */
export function readLog(file: PortalFile, owner: Owner, asked: LogAsked): LogRow[] {
  const names = new Names(file, owner);
  const { where, values } = testsOf(asked);
  const words = fold((asked.words ?? "").trim());
  let found = where.length > 0 ? `WHERE ${where.join(" AND ")}` : "";
  if (words) {
    const places = [
      "e.detail IS NOT NULL AND instr(lower(e.detail), @words) > 0",
      ...kindsSaying(file, words).map((kind, i) => {
        values[`kind${i}`] = kind;
        return `e.act = @kind${i}`;
      }),
      "e.record_id IN (SELECT value FROM json_each(@named))",
    ];
    Object.assign(values, { words, named: JSON.stringify(names.called(words)) });
    // Each place by its own index, from its newest on: together they hold the newest of all.
    const newest = places.map(
      (place) => `SELECT id FROM (SELECT e.id FROM sys_events e WHERE ${[...where, place].join(" AND ")} ORDER BY e.id DESC LIMIT @limit)`,
    );
    found = `WHERE e.id IN (${newest.join(" UNION ALL ")})`;
  }
  const rows = file.db
    .prepare(
      `SELECT e.id, e.at, e.actor_kind AS kind, e.actor_id AS actor, e.via, e.act, e.table_id AS tableId, e.record_id AS recordId,
         e.company_id AS companyId, e.detail, v."before", v."after"
       FROM sys_events e LEFT JOIN sys_event_values v ON v.event_id = e.id ${found} ORDER BY e.id DESC LIMIT @limit`,
    )
    .all(values) as Raw[];
  names.look(rows);
  return rows.map((r) => names.row(r));
}

/** All that is asked but words, as tests of `sys_events e` with the values that they name. */
function testsOf(asked: LogAsked): { where: string[]; values: Record<string, string | number> } {
  const where: string[] = [];
  const values: Record<string, string | number> = { limit: asked.limit };
  const test = (text: string, more: Record<string, string | number>): void => {
    where.push(text);
    Object.assign(values, more);
  };
  const [kind, id] = (asked.who ?? "").split(":", 2);
  if (kind) test("e.actor_kind = @kind", { kind });
  if (id) test("e.actor_id = @actor", { actor: id });
  if (asked.company) test("e.company_id = @company", { company: asked.company });
  if (asked.kind) test("e.act = @act", { act: asked.kind });
  if (asked.table) test("e.table_id = @table", { table: asked.table });
  // With what happened to records that became part of it.
  if (asked.record)
    test(
      "(e.record_id = @record OR e.record_id IN (SELECT m.detail FROM sys_events m WHERE m.record_id = @record AND m.act = 'record-took-over'))",
      { record: asked.record },
    );
  if (asked.ids) test("e.id IN (SELECT value FROM json_each(@ids))", { ids: JSON.stringify(asked.ids) });
  if (asked.before) test("e.id < @before", { before: asked.before });
  return { where, values };
}

/** Kinds that have happened here and whose words hold these; of what an older version recorded by a sentence, the sentence. */
const kindsSaying = (file: PortalFile, words: string): string[] =>
  kindsIn(file).filter((kind) => fold(wordsOf(file, kind)).includes(words));

/** Every kind that ever happened here, each looked up after the one before it, so that a long log is not read through. */
const kindsIn = (file: PortalFile): string[] =>
  file.db
    .prepare(
      `WITH RECURSIVE k(act) AS (SELECT min(act) FROM sys_events UNION ALL SELECT (SELECT min(act) FROM sys_events WHERE act > k.act) FROM k WHERE act IS NOT NULL)
       SELECT act FROM k WHERE act IS NOT NULL`,
    )
    .pluck()
    .all() as string[];

/** The same for choosing from, in the order of their words. */
export function kindsSoFar(file: PortalFile, _owner: Owner): { kind: string; says: string }[] {
  return kindsIn(file)
    .map((kind) => ({ kind, says: wordsOf(file, kind) }))
    .sort((a, b) => compareCodePoints(a.says, b.says));
}
const wordsOf = (file: PortalFile, kind: string): string => eventWords(kind, (id) => published(file).policy.act(id)?.name);

/** Whatever an event names, by its name now; what is gone is said to be. */
class Names {
  readonly #schema: Schema;
  readonly #staff: Map<string, string>;
  readonly #known = new Map<string, string>();
  #keyNames: ReadonlyMap<string, string> | undefined;

  constructor(
    private readonly file: PortalFile,
    _owner: Owner,
  ) {
    this.#schema = schemaOf(file);
    this.#staff = new Map(control().db.prepare("SELECT id, name FROM staff").raw().all() as [string, string][]);
  }

  /** Ids of records that are called so, as many as a search needs. */
  called(words: string): string[] {
    return this.#schema.tables.flatMap((t) => {
      const label = this.#schema.field(t.labelFieldId);
      if (!kindOf(label).folds) return [];
      return this.file.db
        .prepare(`SELECT id FROM ${sqlName(t.id)} WHERE instr(${sqlName(`${label.id}_k`)}, ?) > 0 LIMIT 500`)
        .pluck()
        .all(words) as string[];
    });
  }

  /** The names of all that these rows are about, a statement for each table. */
  look(rows: readonly Raw[]): void {
    const ids = new Map<string, Set<string>>();
    const add = (table: string | null, id: string | null): void => {
      if (table && id) ids.set(table, (ids.get(table) ?? new Set()).add(id));
    };
    for (const r of rows) {
      add(r.tableId, r.recordId);
      add(r.companyId && "t_companies", r.companyId);
      add(r.kind === "person" ? "t_people" : null, r.actor);
    }
    for (const [tableId, asked] of ids) {
      const table = this.#schema.findTable(tableId);
      if (!table) continue;
      const found = this.file.db
        .prepare(`SELECT id, ${sqlName(table.labelFieldId)} FROM ${sqlName(tableId)} WHERE id IN (SELECT value FROM json_each(?))`)
        .raw()
        .all(JSON.stringify([...asked])) as [string, unknown][];
      for (const [id, label] of found) if (label) this.#known.set(`${tableId} ${id}`, String(label));
    }
  }

  #named(tableId: string, id: string): string {
    const key = `${tableId} ${id}`;
    const known = this.#known.get(key);
    if (known !== undefined) return known;
    const table = this.#schema.findTable(tableId);
    const label =
      table &&
      this.file.db
        .prepare(`SELECT ${sqlName(table.labelFieldId)} FROM ${sqlName(tableId)} WHERE id = ?`)
        .pluck()
        .get(id);
    const removed = label ?? this.file.db.prepare("SELECT label FROM sys_removed WHERE record_id = ?").pluck().get(id);
    const name = removed ? String(removed) : "a record that is gone";
    this.#known.set(key, name);
    return name;
  }

  #keys = (): ReadonlyMap<string, string> =>
    (this.#keyNames ??= new Map(this.file.db.prepare("SELECT id, name FROM sys_keys").raw().all() as [string, string][]));

  #who(kind: string, id: string | null): string {
    if (kind === "person") return id ? this.#named("t_people", id) : "a person";
    if (kind === "staff") return (id && this.#staff.get(id)) || "the back office";
    if (kind === "key") return `the key ${(id && this.#keys().get(id)) ?? "that is gone"}`;
    return kind === "visitor" ? "a visitor" : "Elkhorn";
  }

  row(r: Raw): LogRow {
    const table = r.tableId ? this.#schema.findTable(r.tableId) : undefined;
    return {
      id: r.id,
      at: r.at,
      who: this.#who(r.kind, r.actor),
      actor: r.actor ? `${r.kind}:${r.actor}` : r.kind,
      via: r.via,
      kind: r.act,
      says: wordsOf(this.file, r.act),
      table: table ? { id: table.id, name: table.name, slug: table.slug } : null,
      record: r.recordId && r.tableId ? { id: r.recordId, name: this.#named(r.tableId, r.recordId) } : null,
      company: r.companyId ? { id: r.companyId, name: this.#named("t_companies", r.companyId) } : null,
      detail: r.act === "record-took-over" && r.tableId && r.detail ? this.#named(r.tableId, r.detail) : r.detail,
      changes: this.#changes(r),
    };
  }

  #changes(r: Raw): LogRow["changes"] {
    const [before, after] = [r.before, r.after].map((x) => (x ? (JSON.parse(x) as Record<string, unknown>) : {}));
    return [...new Set([...Object.keys(before!), ...Object.keys(after!)])].flatMap((id) => {
      const field = this.#schema.findField(id);
      if (!field) return [];
      const [was, is] = [this.#words(field, before![id]), this.#words(field, after![id])];
      return was === is ? [] : [{ field: field.name, before: was, after: is }];
    });
  }

  #words(field: Field, value: unknown): string {
    if (value === null || value === undefined || value === "") return "";
    const ids = (Array.isArray(value) ? value : [value]).map(String);
    if (isRelation(field)) return ids.map((id) => this.#named(field.options.target, id)).join(", ");
    if (holdsFiles(field))
      return ids
        .map((id) => String(this.file.db.prepare("SELECT name FROM sys_files WHERE id = ?").pluck().get(id) ?? "a file that is gone"))
        .join(", ");
    return toWords(field, value as SeenValue, published(this.file).definition.portal);
  }
}
