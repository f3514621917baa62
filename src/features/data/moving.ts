/**
 * Records of one table moved under another company as one act: tried first, with what it does to who sees how many of them, then done or
 * refused as a whole. Each record is changed at the owner's desk, so that whatever a change by hand would refuse is refused here.
 */

import type { Policy } from "@/core/access/policy";
import type { Owner } from "@/core/access/who/viewer";
import type { Result } from "@/core/result";
import { pointsToOne } from "@/core/schema/fields/natures";
import type { RelationField, Table } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { published } from "@/data/definition/published";
import { attempt, refuse } from "@/data/file/attempt";
import { FULL } from "@/data/file/full";
import { type PortalFile, portalFile } from "@/data/file/open";
import { reached } from "@/data/file/points";
import { Desk } from "@/data/records/desk";
import { strangersIn } from "@/data/records/moving";
import { writersTask } from "@/data/threads";
import { Crowd } from "@/identity/viewers/crowd";

export const MOST_MOVED = 5_000;

export interface MoveAsk {
  readonly table: string;
  readonly from: string;
  readonly to: string;
  /** Only these of them: what an earlier move is undone with. */
  readonly ids?: readonly string[] | undefined;
}

export interface Moved {
  readonly ids: readonly string[];
  /** Records of that company beyond what one act moves. */
  readonly more: number;
  /** People whose sight of the table changes, with how many of its records each sees. */
  readonly people: readonly { readonly name: string; readonly company: string; readonly before: number; readonly after: number }[];
  /** Records that name somebody or something of another company afterwards, by field. */
  readonly strangers: readonly { readonly field: string; readonly records: number }[];
}

/** The relation that says whose records of the table are, where a company itself is what it points to. */
export function ownerRelation(policy: Policy, table: Table): RelationField | null {
  const wall = policy.wall(table.id);
  const first = wall.kind === "owned" && wall.path.length === 1 ? policy.schema.field(wall.path[0]!) : null;
  return first && pointsToOne(first) ? first : null;
}

/** Without `really` all of it is undone before it is answered. */
export function moveRecords(file: PortalFile, owner: Owner, ask: MoveAsk, really: boolean): Result<Moved, string> {
  const work = (): Moved => {
    const moved = move(file, owner, ask);
    if (really) reached("move: records are moved");
    return moved;
  };
  return attempt(file, work, { really, full: FULL });
}

function move(file: PortalFile, owner: Owner, { table: tableId, from, to, ids: only }: MoveAsk): Moved {
  const { policy, definition } = published(file);
  const table = policy.schema.findTable(tableId);
  const field = table && ownerRelation(policy, table);
  if (!table || !field) refuse("Records of this table do not belong to a company by themselves.");
  const there = file.db.prepare("SELECT f_company_name FROM t_companies WHERE id = ?").pluck();
  if (there.get(from) === undefined || there.get(to) === undefined) refuse("Choose two companies of this portal.");
  if (from === to) refuse("Choose another company than the one they belong to.");
  const all = file.db
    .prepare(`SELECT id FROM ${sqlName(table.id)} WHERE company_id = ? ORDER BY rowid`)
    .pluck()
    .all(from) as string[];
  const wanted = only ? new Set(only) : null;
  const ids = (wanted ? all.filter((id) => wanted.has(id)) : all).slice(0, MOST_MOVED);
  if (ids.length === 0) refuse(`No ${table.name.toLowerCase()} belong to ${String(there.get(from))}.`);
  const crowd = new Crowd(file, definition, owner, owner.now).everyone({ asActive: true });
  const concerned = crowd.filter((s) => s.companyId === from || s.companyId === to);
  const counts = (): number[] => concerned.map((s) => new Desk(file, policy, s.viewer).count(table));
  const before = counts();
  const desk = new Desk(file, policy, owner);
  for (const id of ids) {
    const done = desk.change(table, id, { [field.id]: to }, null);
    if (done.ok) continue;
    const why = done.error.code === "invalid" ? (done.error.errors[0]?.message ?? "It cannot be changed.") : "It cannot be changed.";
    refuse(`${desk.labelOf(table, id) ?? table.singular} cannot be moved. ${why}`);
  }
  const after = counts();
  return {
    ids,
    more: wanted ? 0 : all.length - ids.length,
    people: concerned.flatMap((s, i) =>
      before[i] === after[i] ? [] : [{ name: s.name, company: s.company ?? "", before: before[i]!, after: after[i]! }],
    ),
    strangers: strangersIn(file, owner, policy, table, ids, to).filter((x) => x.field !== field.name),
  };
}

export const moveTask = writersTask("move records to another company", (ask: MoveAsk & { portal: string; really: boolean }, viewer) => {
  const file = portalFile(ask.portal);
  if (!file) throw new Error(`There is no portal at ${ask.portal} any more.`);
  if (viewer.kind !== "owner") throw new Error("Records are the owner's to move.");
  return moveRecords(file, viewer as Owner, ask, ask.really);
});
