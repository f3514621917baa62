/** Features given by hand, until a day or for good; and taken back. */
import { and, eq } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { record } from "../events/record";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";

export interface Giving {
  readonly company: string;
  readonly feature: string;
  readonly name: string;
  readonly until: string | null;
  readonly by: string;
  readonly reason: string;
}

/** Opens a feature to a company beside its plan, up to a day or for good, with the reason in the log. */
export function giveFeature(file: PortalFile, owner: Owner, g: Giving): void {
  transact(file, () => {
    file.orm
      .insert(t.opened)
      .values({
        id: newId(),
        companyId: g.company,
        personId: null,
        kind: "feature",
        ref: g.feature,
        until: g.until,
        why: `given by ${g.by}`,
        orderId: null,
        at: owner.now,
      })
      .run();
    const until = g.until ? ` until ${g.until}` : "";
    record(file, {
      actor: actorOf(owner),
      via: "page",
      at: owner.now,
      kind: "feature-given",
      company: g.company,
      detail: `${g.name}${until} (${g.reason})`,
    });
  });
}

export type OpenedOne = typeof t.opened.$inferSelect;
/** Features and records that were opened to a company beside its plan, those that are over too. */
export const openedOf = (file: PortalFile, _owner: Owner, company: string): OpenedOne[] =>
  file.orm.select().from(t.opened).where(eq(t.opened.companyId, company)).all();

/** False where it is not there. */
export function takeGiven(file: PortalFile, owner: Owner, company: string, id: string, reason: string): boolean {
  return transact(file, () => {
    const gone = file.orm
      .delete(t.opened)
      .where(and(eq(t.opened.id, id), eq(t.opened.companyId, company)))
      .returning()
      .get();
    if (!gone) return false;
    record(file, {
      actor: actorOf(owner),
      via: "page",
      at: owner.now,
      kind: "feature-taken-back",
      company,
      detail: `${gone.ref}, ${gone.why} (${reason})`,
    });
    return true;
  });
}
