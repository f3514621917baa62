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
import { saidOf } from "@/letters/said";
import { type CompanySettings, companySettings } from "./company-settings";
import { leadingPlace, type Place } from "./leading";

export interface Colleague {
  /** For somebody whom the agency is still asked about this is the id of that request. It is used alike, so nobody can tell the difference. */
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

/** Null where the viewer leads no company. */
export function companyDesk(file: PortalFile, viewer: Viewer): CompanyDesk | null {
  const { company, person } = viewer;
  const own = person && leadingPlace(file, viewer, () => membershipsOf(file, person.id));
  return company && person && own ? new LedCompany(file, viewer, company, person, own) : null;
}

type Of<K extends "company" | "person"> = NonNullable<Viewer[K]>;

class LedCompany implements CompanyDesk {
  private readonly settings: CompanySettings;
  private readonly doer: JoiningDoer;

  constructor(
    private readonly file: PortalFile,
    private readonly viewer: Viewer,
    private readonly company: Of<"company">,
    private readonly person: Of<"person">,
    private readonly own: Place,
  ) {
    this.settings = companySettings(file);
    this.doer = { kind: "joining", actor: actorOf(viewer), now: viewer.now };
  }

  get companyId(): string {
    return this.company.id;
  }
  get give(): readonly string[] {
    return this.settings.give;
  }
  get seats(): CompanyDesk["seats"] {
    return { used: this.#used(), all: this.settings.seatsOf[this.company.id] ?? this.settings.seats };
  }
  get plan(): Seats | null {
    return seatsOf(this.file, this.company.id);
  }

  #of = (membershipId: string) =>
    this.file.orm
      .select()
      .from(memberships)
      .where(and(eq(memberships.id, membershipId), eq(memberships.companyId, this.company.id)))
      .get();
  /** The other people of the company whose roles a lead may give. */
  #mine = (m: { id: string; roles: readonly string[] }): boolean =>
    m.id !== this.own.id && m.roles.every((r) => this.settings.give.includes(r));
  #asked = () =>
    this.file.orm
      .select()
      .from(joins)
      .where(and(eq(joins.kind, "colleague"), eq(joins.company, this.company.id), eq(joins.state, "confirmed")))
      .all();
  #askedAs = (id: string) => this.#asked().find((j) => j.id === id);
  #used = (): number =>
    (this.file.orm.select({ n: count() }).from(memberships).where(eq(memberships.companyId, this.company.id)).get()?.n ?? 0) +
    this.#asked().length;
  #noted = (kind: EventKind, personId: string, detail?: string): void =>
    void record(this.file, {
      actor: this.doer.actor,
      via: "page",
      at: this.doer.now,
      kind,
      table: "t_people",
      record: personId,
      company: this.company.id,
      ...(detail ? { detail } : {}),
    });

  list(): Colleague[] {
    const rows = this.file.db
      .prepare(
        `SELECT m.id, m.person_id AS personId, m.roles, (SELECT max(seen_at) FROM sys_sessions WHERE person_id = m.person_id) AS seenAt
         FROM sys_memberships m WHERE m.company_id = ? ORDER BY m.created_at, m.rowid LIMIT 1000`,
      )
      .all(this.company.id) as { id: string; personId: string; roles: string; seenAt: number | null }[];
    const inside = rows.flatMap((m): Colleague[] => {
      const facts = personFacts(this.file, m.personId);
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
              mine: this.#mine({ id: m.id, roles }),
            },
          ]
        : [];
    });
    // A company must not learn whether somebody is known elsewhere in the portal, so everybody is shown as invited.
    const waiting = this.#asked().map((j): Colleague => {
      const roles = rolesAsked(j.values);
      return {
        membershipId: j.id,
        name: j.name,
        email: j.email,
        roles,
        status: "invited",
        seenAt: null,
        mine: this.#mine({ id: j.id, roles }),
      };
    });
    // In one order: who stands at the end is told apart by that.
    return [...inside, ...waiting].sort((a, b) => (a.membershipId < b.membershipId ? -1 : 1));
  }
  invite(name: string, address: string, role: string): ReturnType<CompanyDesk["invite"]> {
    const email = joinEmail(address);
    const clean = plainName(name);
    if (!clean) return err({ field: "name", message: "Write their name, in up to 120 characters and without an address in it." });
    if (!email) return err({ field: "email", message: "Write an e-mail address like dana@this.company.example, in plain letters." });
    if (!this.settings.give.includes(role)) return err({ field: "role", message: "Choose a role that you may give." });
    const { all } = this.seats;
    return transact(this.file, () => {
      if (all !== null && this.#used() >= all)
        return err({
          field: null,
          message: `All ${all} seats of your company are taken. Take somebody out first, or ask the agency for more.`,
        });
      const plan = seatsOf(this.file, this.company.id);
      if (plan && plan.taken + this.#asked().length >= plan.paidFor)
        return err({
          field: null,
          message: `Your plan has ${plan.paidFor === 1 ? "one seat, and it is" : `${plan.paidFor} seats, and all are`} taken. Take somebody out first, or have one more.`,
        });
      const known = personIdByEmail(this.file, email);
      const here = known
        ? membershipsOf(this.file, known).some((m) => m.companyId === this.company.id)
        : this.#asked().some((j) => j.email === email);
      if (here || this.#asked().some((j) => j.email === email))
        return err({ field: "email", message: "They are of your company already, or invited." });
      if (known) {
        const row = {
          id: newId(),
          email,
          name: clean,
          kind: "colleague",
          company: this.company.id,
          values: { roles: [role] },
          wrote: `${this.person.name} asks for them to be of ${this.company.name}.`,
          terms: null,
        };
        this.file.orm
          .insert(joins)
          .values({
            ...row,
            state: "confirmed",
            personId: known,
            madeAt: this.doer.now,
            expiresAt: this.doer.now,
            confirmedAt: this.doer.now,
          })
          .run();
        this.#noted("known-asked-for", known);
        return ok(null);
      }
      const added = addPerson(this.file, this.doer, { name: clean, email, memberships: [{ companyId: this.company.id, roles: [role] }] });
      if (!added.ok) return err({ field: added.error.field === "email" ? "email" : "name", message: added.error.message });
      const link = freshLink(this.file, added.value.id, "invitation", this.doer.now);
      const said = {
        ...saidOf(this.file, { name: clean, email }, this.viewer.now),
        by: `${this.person.name} of ${this.company.name}`,
        note: "",
      };
      write(this.file, {
        occasion: "invited",
        to: { personId: added.value.id, email },
        said,
        link,
        by: this.person.id,
        now: this.doer.now,
      });
      this.#noted("invited", added.value.id);
      return ok(null);
    });
  }
  setRoles(membershipId: string, roles: readonly string[]): string | null {
    const m = this.#of(membershipId);
    const j = this.#askedAs(membershipId);
    if (j && roles.length > 0 && roles.every((r) => this.settings.give.includes(r))) {
      this.file.orm
        .update(joins)
        .set({ values: { roles: [...new Set(roles)] } })
        .where(eq(joins.id, j.id))
        .run();
      return null;
    }
    if (j) return "Choose among the roles that you may give.";
    if (!m) return "They are not of your company any more.";
    if (!this.#mine(m)) return "What they hold is not yours to change.";
    if (roles.length === 0 || !roles.every((r) => this.settings.give.includes(r))) return "Choose among the roles that you may give.";
    const done = addMembership(this.file, this.doer, m.personId, this.company.id, [...new Set(roles)]);
    return done.ok ? null : done.error.message;
  }
  takeOut(membershipId: string): string | null {
    const m = this.#of(membershipId);
    const j = this.#askedAs(membershipId);
    if (j) {
      this.file.orm.update(joins).set({ state: "withdrawn" }).where(eq(joins.id, j.id)).run();
      if (j.personId) this.#noted("known-taken-back", j.personId);
      return null;
    }
    if (!m) return "They are not of your company any more.";
    if (!this.#mine(m)) return "What they hold is not yours to change.";
    return transact(this.file, () => {
      removeMembership(this.file, this.doer, m.personId, membershipId);
      // Somebody of no other company has no business here: out at once, and their links with it.
      if (membershipsOf(this.file, m.personId).length === 0) setStatus(this.file, this.doer.actor, m.personId, "inactive", this.doer.now);
      return null;
    });
  }
  handOver(membershipId: string): string | null {
    const m = this.#of(membershipId);
    if (this.#askedAs(membershipId)) return NOT_IN_YET;
    if (!m || m.id === this.own.id) return "Choose somebody else of your this.company.";
    if (personFacts(this.file, m.personId)?.status !== "active") return NOT_IN_YET;
    const lead = this.own.roles.filter((r) => this.settings.leads.includes(r));
    const rest = this.own.roles.filter((r) => !this.settings.leads.includes(r));
    const kept = rest.length > 0 ? rest : this.settings.give.filter((r) => !this.settings.leads.includes(r)).slice(0, 1);
    if (kept.length === 0) return "You would hold no role any more: ask the agency.";
    return transact(this.file, () => {
      addMembership(this.file, this.doer, m.personId, this.company.id, [...new Set([...m.roles, ...lead])]);
      addMembership(this.file, this.doer, this.person.id, this.company.id, kept);
      this.#noted("lead-handed-over", m.personId);
      return null;
    });
  }
}
