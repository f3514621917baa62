/** What happened to a table's records since an event, as one viewer may be told of it: each record once, as it is now. */
import { scope } from "@/core/access/scope";
import { testsOf } from "@/core/schema/condition";
import { isRelation } from "@/core/schema/fields/natures";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table, Values } from "@/core/schema/types";
import type { Access } from "../access";
import { heardOf } from "./heard";

/** Events looked at for one page: what others did must not make a question without an end. */
const MOST_EVENTS = 5_000;

/** An event by its number and what tells whether it is still the same one: after a restore another may have the number. */
export interface Mark {
  readonly event: number;
  readonly at: number;
}

export interface Changes {
  readonly changes: readonly (
    | { readonly kind: "seen"; readonly record: SeenRecord }
    | { readonly kind: "left"; readonly id: string }
    /** Very many at once, such as by an import: the table is to be read anew. */
    | { readonly kind: "many" }
  )[];
  readonly to: Mark;
  readonly more: boolean;
}

interface Stored {
  id: number;
  at: number;
  act: string;
  tableId: string | null;
  recordId: string | null;
  companyId: string | null;
  before: string | null;
  after: string | null;
}

/** Acts after which everybody may see something else. */
const OF_ALL = new Set(["published", "reshaped", "version-brought-back"]);
/** Acts on a whole table that change records without an event of their own. */
const OF_MANY = new Set([
  "imported",
  "import-undone",
  "field-filled",
  "field-retyped",
  "choices-changed",
  "relation-turned",
  "records-moved-in",
  "fields-dropped",
]);

/** Where a reader begins who has read the table just now. */
export function markNow({ file }: Access): Mark {
  const last = file.db.prepare("SELECT id AS event, at FROM sys_events ORDER BY id DESC LIMIT 1").get() as Mark | undefined;
  return last ?? { event: 0, at: 0 };
}

/** Null where the mark is no event of this file any more: what came after it cannot be told. */
export function changesSince(d: Access, table: Table, from: Mark, most: number): Changes | null {
  const { db } = d.file;
  if (from.event > 0 && db.prepare("SELECT at FROM sys_events WHERE id = ?").pluck().get(from.event) !== from.at) return null;
  const events = db
    .prepare(
      `SELECT e.id, e.at, e.act, e.table_id AS tableId, e.record_id AS recordId, e.company_id AS companyId, v."before", v."after"
       FROM sys_events e LEFT JOIN sys_event_values v ON v.event_id = e.id WHERE e.id > ? ORDER BY e.id LIMIT ?`,
    )
    .all(from.event, MOST_EVENTS) as Stored[];
  const moves = movesOthers(d, table);
  const found = new Map<string, Changes["changes"][number]>();
  let to = from;
  let looked = 0;
  for (const e of events) {
    if (found.size >= most) break;
    looked += 1;
    to = { event: e.id, at: e.at };
    if (OF_ALL.has(e.act) || (e.tableId === table.id ? OF_MANY.has(e.act) : moves(e))) {
      // Whatever was found before is in what is read anew.
      found.clear();
      found.set("", { kind: "many" });
      continue;
    }
    if (e.tableId !== table.id) continue;
    if (e.recordId === null || found.get(e.recordId)?.kind === "seen") continue;
    const of = { table, record: e.recordId, company: e.companyId, before: values(e.before), after: values(e.after) };
    const heard = heardOf(d, of, null);
    if (heard.kind === "seen") found.set(e.recordId, { kind: "seen", record: heard.record });
    else if (heard.kind === "left") found.set(e.recordId, { kind: "left", id: e.recordId });
  }
  return { changes: [...found.values()], to, more: looked < events.length || events.length === MOST_EVENTS };
}

/**
 * Whether an event of another table may have moved records of this one into or out of sight, or emptied their relations: it changed a field
 * that the wall or a grant's filter looks at on the way, or took a record away, or brought one back, that records here can point to.
 */
function movesOthers({ policy, viewer }: Access, table: Table): (e: Stored) => boolean {
  const wall = policy.wall(table.id);
  const filters = scope(policy, viewer, table.id).grants.flatMap((g) => testsOf(g.grant.filter).flatMap((t) => t.path));
  const looked = new Set([...(wall.kind === "owned" ? wall.path : []), ...filters]);
  const pointed = new Set(
    [...table.fields, ...[...looked].flatMap((f) => policy.schema.findField(f) ?? [])].flatMap((f) =>
      isRelation(f) ? f.options.target : [],
    ),
  );
  return (e) => {
    if (e.act === "record-removed" || e.act === "record-restored") return e.tableId !== null && pointed.has(e.tableId);
    // Nothing points to what is new.
    if (e.act === "record-added") return false;
    return [e.before, e.after].some((text) => text !== null && Object.keys(values(text) ?? {}).some((f) => looked.has(f)));
  };
}

const values = (text: string | null): Values | null => (text === null ? null : (JSON.parse(text) as Values));
