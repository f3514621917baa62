/** An act taken back by whoever did it, while nothing of it has been touched since. */

import { and, eq } from "drizzle-orm";
import { match } from "@/core/access/match";
import { doingOf } from "@/core/access/rules";
import { scope } from "@/core/access/scope";
import { actorOf } from "@/core/events/event";
import { ownActOf } from "@/core/events/kinds";
import { err, ok, type Result } from "@/core/result";
import type { Values } from "@/core/schema/types";
import type { Access } from "../../access";
import { record } from "../../events/record";
import * as t from "../../file/portal-tables";
import { transact } from "../../file/transact";
import { storeCompanyOf } from "../../tables/company";
import { readRow, worldOf } from "../../tables/rows";
import { updateRow } from "../../tables/store";
import { by, made } from "./incoming";

export const UNDO_LASTS = 10 * 60_000;

/** `gone`: not theirs, too long ago, or taken back already; `changed`: what it set has been changed meanwhile. */
export function undoAct(d: Access, event: number): Result<{ id: string }, "gone" | "changed"> {
  const { file, policy, viewer } = d;
  return transact(file, (): Result<{ id: string }, "gone" | "changed"> => {
    const e = file.orm
      .select()
      .from(t.events)
      .where(and(eq(t.events.id, event), eq(t.events.via, "act")))
      .get();
    const values = file.orm.select().from(t.eventValues).where(eq(t.eventValues.eventId, event)).get();
    const me = actorOf(viewer);
    const undone = file.orm.select({ id: t.events.id }).from(t.events).where(eq(t.events.cause, event)).get();
    const act = policy.act(e ? ownActOf(e.act) : null);
    if (!e?.tableId || !e.recordId || !values?.before || !act || act.on === "accept" || undone || me.id === null) return err("gone");
    if (e.actorKind !== me.kind || e.actorId !== me.id || e.at < viewer.now - UNDO_LASTS) return err("gone");
    // Whoever may not do it any more does not undo it either.
    if (scope(policy, viewer, e.tableId, doingOf(act)).grants.length === 0) return err("gone");
    const table = policy.schema.findTable(e.tableId);
    const row = table && readRow(file, policy.schema, table, e.recordId);
    const wall = table && scope(policy, viewer, table.id, doingOf(act)).wall;
    if (!row || !wall || !match(wall, row, worldOf(file, policy.schema), policy.schema)) return err("gone");
    const [before, after] = [JSON.parse(values.before), JSON.parse(values.after ?? "{}")] as [Values, Values];
    const same = Object.entries(after).every(([f, v]) => JSON.stringify(row.values[f] ?? null) === JSON.stringify(v ?? null));
    if (!same || Object.keys(before).some((f) => !policy.schema.findField(f))) return err("changed");
    updateRow(file, policy.schema, table, row.id, before, made(d));
    storeCompanyOf(file, policy, table.id, row.id);
    record(file, {
      ...by(d),
      kind: "act-undone",
      table: table.id,
      record: row.id,
      company: e.companyId,
      before: after,
      after: before,
      cause: event,
    });
    return ok({ id: row.id });
  });
}
