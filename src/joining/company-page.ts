/**
 * What the leads of a company do for it themselves: who belongs to it, within the seats and the roles that the owner allows. Everything here
 * is asked of the viewer's own company, and of a desk that only `companyDesk` gives out.
 */

import { and, count, eq } from "drizzle-orm";
import { z } from "zod";
import type { Viewer } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import type { EventKind } from "@/core/events/kinds";
import { joinEmail, plainName } from "@/core/joining/joining";
import { err, ok, type Result } from "@/core/result";
import { type Seats, seatsOf } from "@/data/billing/people";
import { record } from "@/data/events/record";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { joins, memberships } from "@/data/file/portal-tables";
import { transact } from "@/data/file/transact";
import { write } from "@/data/messages/outbox";
import {
  addMembership,
  addPerson,
  type JoiningDoer,
  membershipsOf,
  personFacts,
  personIdByEmail,
  removeMembership,
  setStatus,
} from "@/data/people/people";
import { freshLink } from "@/identity/secrets/links";
import { saidOf } from "@/letters/letters";
import { companySettings } from "./company-settings";

export interface Colleague {
  /** Of somebody whom the agency is asked about it is the asking's: it is used alike, and cannot be told apart. */
  readonly membershipId: string;
  readonly name: string;
  readonly email: string;
  readonly roles: readonly string[];
  readonly status: string;
  readonly seenAt: number | null;
  /** Whether the lead may change what they are: not oneself, and nobody who holds more than the lead may give. */
  readonly mine: boolean;
}

export interface CompanyDesk {
  readonly companyId: string;
  /** Roles that may be given. */
  readonly give: readonly string[];
  readonly seats: { readonly used: number; readonly all: number | null };
  /** What the plan has of them; null where it has as many as come. */
  readonly plan: Seats | null;
  list(): Colleague[];
  invite(name: string, email: string, role: string): Result<null, { field: "name" | "email" | "role" | null; message: string }>;
  /** Of the roles that may be given, those that they hold from now on; others that they hold stay. */
  setRoles(membershipId: string, roles: readonly string[]): string | null;
  takeOut(membershipId: string): string | null;
  /** The lead goes over to somebody of the company, and the one who gives it keeps the roles that may be given. */
  handOver(membershipId: string): string | null;
}

const NOT_IN_YET = "They have not signed in yet: hand over once they have.";
const rolesAsked = (values: unknown): string[] =>
  z
    .object({ roles: z.array(z.string()) })
    .catch({ roles: [] })
    .parse(values).roles;

interface Place {
  readonly id: string;
  readonly companyId: string | null;
  readonly roles: readonly string[];
}

/**
 * The place by which the viewer leads the company that they act for, among those that they hold; null where they lead none. A read-only look
 * as somebody leads none.
 */
export function leadingPlace(file: PortalFile, viewer: Viewer, places: () => readonly Place[]): Place | null {
  const { company, person } = viewer;
  if (!company || viewer.kind !== "person" || viewer.mode !== "live" || person?.status !== "active") return null;
  const { leads } = companySettings(file);
  if (leads.length === 0) return null;
  const own = places().find((m) => m.id === viewer.membershipId);
  return own && own.companyId === company.id && own.roles.some((r) => leads.includes(r)) ? own : null;
}

/** Null where the viewer leads no company. */
export function companyDesk(file: PortalFile, viewer: Viewer): CompanyDesk | null {
  const { company, person } = viewer;
  const own = person && leadingPlace(file, viewer, () => membershipsOf(file, person.id));
  if (!company || !person || !own) return null;
  const s = companySettings(file);
  const doer: JoiningDoer = { kind: "joining", actor: actorOf(viewer), now: viewer.now };
  const of = (membershipId: string) =>
    file.orm
      .select()
      .from(memberships)
      .where(and(eq(memberships.id, membershipId), eq(memberships.companyId, company.id)))
      .get();
  /** Others of the company, none of whom holds more than may be given. */
  const mine = (m: { id: string; roles: readonly string[] }): boolean => m.id !== own.id && m.roles.every((r) => s.give.includes(r));
  const asked = () =>
    file.orm
      .select()
      .from(joins)
      .where(and(eq(joins.kind, "colleague"), eq(joins.company, company.id), eq(joins.state, "confirmed")))
      .all();
  const askedAs = (id: string) => asked().find((j) => j.id === id);
  const used = (): number =>
    (file.orm.select({ n: count() }).from(memberships).where(eq(memberships.companyId, company.id)).get()?.n ?? 0) + asked().length;
  const all = s.seatsOf[company.id] ?? s.seats;
  const noted = (kind: EventKind, personId: string, detail?: string): void =>
    void record(file, {
      actor: doer.actor,
      via: "page",
      at: doer.now,
      kind,
      table: "t_people",
      record: personId,
      company: company.id,
      ...(detail ? { detail } : {}),
    });

  return {
    companyId: company.id,
    give: s.give,
    seats: { used: used(), all },
    plan: seatsOf(file, company.id),
    list() {
      const rows = file.db
        .prepare(
          `SELECT m.id, m.person_id AS personId, m.roles, (SELECT max(seen_at) FROM sys_sessions WHERE person_id = m.person_id) AS seenAt
           FROM sys_memberships m WHERE m.company_id = ? ORDER BY m.created_at, m.rowid LIMIT 1000`,
        )
        .all(company.id) as { id: string; personId: string; roles: string; seenAt: number | null }[];
      const inside = rows.flatMap((m): Colleague[] => {
        const facts = personFacts(file, m.personId);
        const roles = JSON.parse(m.roles) as string[];
        return facts
          ? [
              {
                membershipId: m.id,
                name: facts.name,
                email: facts.email,
                roles,
                status: facts.status,
                seenAt: m.seenAt,
                mine: mine({ id: m.id, roles }),
              },
            ]
          : [];
      });
      // Whether somebody is known elsewhere in the portal is not a company's to know: they stand here as invited.
      const waiting = asked().map((j): Colleague => {
        const roles = rolesAsked(j.values);
        return {
          membershipId: j.id,
          name: j.name,
          email: j.email,
          roles,
          status: "invited",
          seenAt: null,
          mine: mine({ id: j.id, roles }),
        };
      });
      // In one order: who stands at the end is told apart by that.
      return [...inside, ...waiting].sort((a, b) => (a.membershipId < b.membershipId ? -1 : 1));
    },
    invite(name, address, role) {
      const email = joinEmail(address);
      const clean = plainName(name);
      if (!clean) return err({ field: "name", message: "Write their name, in up to 120 characters and without an address in it." });
      if (!email) return err({ field: "email", message: "Write an e-mail address like dana@company.example, in plain letters." });
      if (!s.give.includes(role)) return err({ field: "role", message: "Choose a role that you may give." });
      return transact(file, () => {
        if (all !== null && used() >= all)
          return err({
            field: null,
            message: `All ${all} seats of your company are taken. Take somebody out first, or ask the agency for more.`,
          });
        const plan = seatsOf(file, company.id);
        if (plan && plan.taken + asked().length >= plan.paidFor)
          return err({
            field: null,
            message: `Your plan has ${plan.paidFor === 1 ? "one seat, and it is" : `${plan.paidFor} seats, and all are`} taken. Take somebody out first, or have one more.`,
          });
        const known = personIdByEmail(file, email);
        const here = known ? membershipsOf(file, known).some((m) => m.companyId === company.id) : asked().some((j) => j.email === email);
        if (here || asked().some((j) => j.email === email))
          return err({ field: "email", message: "They are of your company already, or invited." });
        if (known) {
          const row = {
            id: newId(),
            email,
            name: clean,
            kind: "colleague",
            company: company.id,
            values: { roles: [role] },
            wrote: `${person.name} asks for them to be of ${company.name}.`,
            terms: null,
          };
          file.orm
            .insert(joins)
            .values({ ...row, state: "confirmed", personId: known, madeAt: doer.now, expiresAt: doer.now, confirmedAt: doer.now })
            .run();
          noted("known-asked-for", known);
          return ok(null);
        }
        const added = addPerson(file, doer, { name: clean, email, memberships: [{ companyId: company.id, roles: [role] }] });
        if (!added.ok) return err({ field: added.error.field === "email" ? "email" : "name", message: added.error.message });
        const link = freshLink(file, added.value.id, "invitation", doer.now);
        const said = { ...saidOf(file, { name: clean, email }, viewer.now), by: `${person.name} of ${company.name}`, note: "" };
        write(file, { occasion: "invited", to: { personId: added.value.id, email }, said, link, by: person.id, now: doer.now });
        noted("invited", added.value.id);
        return ok(null);
      });
    },
    setRoles(membershipId, roles) {
      const m = of(membershipId);
      const j = askedAs(membershipId);
      if (j && roles.length > 0 && roles.every((r) => s.give.includes(r))) {
        file.orm
          .update(joins)
          .set({ values: { roles: [...new Set(roles)] } })
          .where(eq(joins.id, j.id))
          .run();
        return null;
      }
      if (j) return "Choose among the roles that you may give.";
      if (!m) return "They are not of your company any more.";
      if (!mine(m)) return "What they hold is not yours to change.";
      if (roles.length === 0 || !roles.every((r) => s.give.includes(r))) return "Choose among the roles that you may give.";
      const done = addMembership(file, doer, m.personId, company.id, [...new Set(roles)]);
      return done.ok ? null : done.error.message;
    },
    takeOut(membershipId) {
      const m = of(membershipId);
      const j = askedAs(membershipId);
      if (j) {
        file.orm.update(joins).set({ state: "withdrawn" }).where(eq(joins.id, j.id)).run();
        if (j.personId) noted("known-taken-back", j.personId);
        return null;
      }
      if (!m) return "They are not of your company any more.";
      if (!mine(m)) return "What they hold is not yours to change.";
      return transact(file, () => {
        removeMembership(file, doer, m.personId, membershipId);
        // Somebody of no other company has no business here: out at once, and their links with it.
        if (membershipsOf(file, m.personId).length === 0) setStatus(file, doer.actor, m.personId, "inactive", doer.now);
        return null;
      });
    },
    handOver(membershipId) {
      const m = of(membershipId);
      if (askedAs(membershipId)) return NOT_IN_YET;
      if (!m || m.id === own.id) return "Choose somebody else of your company.";
      if (personFacts(file, m.personId)?.status !== "active") return NOT_IN_YET;
      const lead = own.roles.filter((r) => s.leads.includes(r));
      const rest = own.roles.filter((r) => !s.leads.includes(r));
      const kept = rest.length > 0 ? rest : s.give.filter((r) => !s.leads.includes(r)).slice(0, 1);
      if (kept.length === 0) return "You would hold no role any more: ask the agency.";
      return transact(file, () => {
        addMembership(file, doer, m.personId, company.id, [...new Set([...m.roles, ...lead])]);
        addMembership(file, doer, person.id, company.id, kept);
        noted("lead-handed-over", m.personId);
        return null;
      });
    },
  };
}
