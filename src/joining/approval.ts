import { and, eq } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "@/data/file/open";
import { joins } from "@/data/file/portal-tables";
import { rowOf } from "@/data/file/text";
import { transact } from "@/data/file/transact";
import { write } from "@/data/messages/outbox";
import { addMembership, membershipsOf, personFacts, setStatus } from "@/data/people/people";
import { saidOf } from "@/letters/said";

/** What they hold there already stays theirs. */
function giveRoles(file: PortalFile, owner: Owner, personId: string, companyId: string | null, roles: readonly string[]) {
  const held = membershipsOf(file, personId).find((m) => m.companyId === companyId)?.roles ?? [];
  return addMembership(file, owner, personId, companyId, [...new Set([...held, ...roles])]);
}

export interface Waiting {
  readonly joinId: string | null;
  readonly personId: string;
  readonly name: string;
  readonly email: string;
  readonly kind: string | null;
  readonly company: string | null;
  readonly wrote: string;
  readonly at: number | null;
  readonly agreed: number | null;
}

/** How many wait, for every place that says so: people who have asked to come in, and those who are in and are asked for by another company. */
export function waitingCount(file: PortalFile, _owner: Owner): number {
  const [people, colleagues] = rowOf(
    file,
    `SELECT (SELECT count(*) FROM t_people WHERE f_person_status = 'awaiting approval'),
      (SELECT count(*) FROM sys_joins WHERE kind = 'colleague' AND state = 'confirmed')`,
  ) as [number, number];
  return people + colleagues;
}

/** People who wait for the agency's approval, the longest wait first. */
export function waitingList(file: PortalFile, _owner: Owner): Waiting[] {
  const ids = file.db
    .prepare("SELECT id FROM t_people WHERE f_person_status = 'awaiting approval' ORDER BY id LIMIT 500")
    .pluck()
    .all() as string[];
  const colleagues = file.orm
    .select()
    .from(joins)
    .where(and(eq(joins.kind, "colleague"), eq(joins.state, "confirmed")))
    .all()
    .map(
      (row): Waiting => ({
        joinId: row.id,
        personId: row.personId!,
        name: row.name,
        email: row.email,
        kind: row.kind,
        company: row.company,
        wrote: row.wrote,
        at: row.madeAt,
        agreed: null,
      }),
    );
  const joined = ids.flatMap((personId) => {
    const person = personFacts(file, personId);
    if (!person) return [];
    const row = file.orm.select().from(joins).where(eq(joins.personId, personId)).get();
    return [
      {
        joinId: row?.id ?? null,
        personId,
        name: person.name,
        email: person.email,
        kind: row?.kind ?? null,
        company: row?.company ?? null,
        wrote: row?.wrote ?? "",
        at: row?.confirmedAt ?? null,
        agreed: row?.terms ?? null,
      },
    ];
  });
  return [...joined, ...colleagues].sort((a, b) => (a.at ?? 0) - (b.at ?? 0));
}

/** Whether somebody known belongs to one more company, which its lead has asked for. The lead is told neither way. */
export function decideColleague(file: PortalFile, owner: Owner, joinId: string, yes: boolean): Result<null, string> {
  return transact(file, () => {
    const open = and(eq(joins.id, joinId), eq(joins.kind, "colleague"), eq(joins.state, "confirmed"));
    const row = file.orm
      .update(joins)
      .set({ state: yes ? "approved" : "declined", decidedAt: owner.now, decidedBy: owner.person?.id ?? null })
      .where(open)
      .returning()
      .get();
    if (!row?.personId) return err("This has been decided already.");
    const roles = (row.values as { roles?: string[] }).roles ?? [];
    const held = yes ? giveRoles(file, owner, row.personId, row.company, roles) : null;
    return held && !held.ok ? err(held.error.message) : ok(null);
  });
}

/** Since when somebody waits to be let in, in milliseconds; null where they do not. */
export const waitsSince = (file: PortalFile, personId: string): number | null =>
  file.orm.select({ at: joins.confirmedAt }).from(joins).where(eq(joins.personId, personId)).get()?.at ?? null;

/** Yes or no, told by mail. A yes gives a company and roles where they have none yet. */
export function decide(
  file: PortalFile,
  owner: Owner,
  personId: string,
  given: { yes: boolean; note: string; companyId: string | null; roles: string[] },
): Result<null, string> {
  const person = personFacts(file, personId);
  if (person?.status !== "awaiting approval") return err("They wait no more.");
  return transact(file, () => {
    if (given.yes && given.companyId) {
      const held = giveRoles(file, owner, personId, given.companyId, given.roles);
      if (!held.ok) return err(held.error.message);
    }
    setStatus(file, actorOf(owner), personId, given.yes ? "active" : "inactive", owner.now);
    const decided = { state: given.yes ? "approved" : "declined", decidedAt: owner.now, decidedBy: owner.person?.id ?? null };
    file.orm.update(joins).set(decided).where(eq(joins.personId, personId)).run();
    const said = { ...saidOf(file, person, owner.now), note: given.note.slice(0, 2_000) };
    write(file, {
      occasion: given.yes ? "approved" : "declined",
      to: { personId, email: person.email },
      said,
      link: null,
      by: `staff:${owner.person?.id ?? ""}`,
      now: owner.now,
    });
    return ok(null);
  });
}
