/** People, companies and memberships: what the owner does with them, and what identity asks about them. */

import { and, eq, isNull } from "drizzle-orm";
import type { Owner, PersonStatus } from "@/core/access/who/viewer";
import { slugOf } from "@/core/address/slug";
import { type Actor, actorOf, actorText } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { cleanLine } from "@/core/schema/fields/text";
import { EMAIL_FIELD, SHOWN_FIELD, type Value } from "@/core/schema/types";
import { isEmail } from "@/core/text/email";
import { fold } from "@/core/text/fold";
import { published } from "../definition/published";
import { record } from "../events/record";
import { attempt, orRefuse, refuse } from "../file/attempt";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";
import { storeCompanyOf } from "../tables/company";
import { companyFacts } from "../tables/company-facts";
import { schemaOf } from "../tables/read";
import { insertRow, type Made, updateRow } from "../tables/store";
import { actingOf, type Held, type PersonFacts } from "./acting";

export interface Membership {
  readonly id: string;
  readonly companyId: string | null;
  readonly companyName: string | null;
  readonly companySlug: string | null;
  readonly roles: readonly string[];
}

export interface PersonError {
  readonly field: "name" | "email" | "company" | "roles" | "person";
  readonly message: string;
}

/** A person's name, address, status and values; undefined where there is none. */
export const personFacts = (file: PortalFile, id: string): PersonFacts | undefined => actingOf(file, id)?.person;

/** Compared without case; undefined where nobody has it. */
export function personIdByEmail(file: PortalFile, email: string): string | undefined {
  return file.db.prepare(`SELECT id FROM t_people WHERE f_person_email_k = ?`).pluck().get(fold(email.trim())) as string | undefined;
}

/** A membership as rules ask about it. */
export const membershipOf = (m: Held): Membership => ({
  id: m.id,
  companyId: m.companyId,
  companyName: m.company?.name ?? null,
  companySlug: m.company?.slug ?? null,
  roles: m.roles,
});

/** The first made is the one acted in at first. */
export const membershipsOf = (file: PortalFile, personId: string): Membership[] =>
  (actingOf(file, personId)?.memberships ?? []).map(membershipOf);

/** Somebody who joins by themselves: what is made of them is made in their own name. */
export interface JoiningDoer {
  readonly kind: "joining";
  readonly actor: Actor;
  readonly now: number;
}
type Doer = Owner | JoiningDoer;

/** Refused where another has its name. */
export function addCompany(
  file: PortalFile,
  owner: Doer,
  name: string,
  values: Readonly<Record<string, Value>> = {},
  id = newId(),
): Result<{ id: string; slug: string }, PersonError> {
  const schema = schemaOf(file);
  return transact(file, (): Result<{ id: string; slug: string }, PersonError> => {
    const clean = cleanLine(name);
    if (!clean) return err({ field: "name", message: "Give the company a name." });
    if (clean.length > 120) return err({ field: "name", message: "Keep the name under 120 characters." });
    const taken = (column: string, value: string) =>
      file.db.prepare(`SELECT 1 FROM t_companies WHERE ${column} = ?`).get(fold(value)) !== undefined;
    // Who joins is not told which companies are there: names may repeat then, and addresses have an ending of their own.
    const joins = owner.kind === "joining";
    if (!joins && taken("f_company_name_k", clean)) return err({ field: "name", message: `There is a company called ${clean} already.` });
    const free = slugOf(clean, "company", (s) => !joins && taken("f_company_slug_k", s));
    const slug = joins ? `${free}-${id.replaceAll("-", "").slice(-6)}` : free;
    insertRow(file, schema.companies, id, { ...values, f_company_name: clean, f_company_slug: slug }, made(owner));
    storeCompanyOf(file, published(file).policy, "t_companies", id);
    record(file, { ...by(owner), kind: "record-added", table: "t_companies", record: id });
    return ok({ id, slug });
  });
}

export interface NewPerson {
  name: string;
  email: string;
  memberships: { companyId: string | null; roles: string[] }[];
  status?: PersonStatus;
  /** The caller gives them a name to sign in by, in the same transaction. */
  signInName?: boolean;
  /** Where the caller has one for them already. */
  id?: string;
  values?: Readonly<Record<string, Value>>;
}

/** Refused where another has their address, or a role or company is not there. */
export function addPerson(file: PortalFile, owner: Doer, p: NewPerson): Result<{ id: string }, PersonError> {
  return attempt<{ id: string }, PersonError>(file, () => {
    const name = cleanLine(p.name);
    const email = p.email.trim();
    if (!name) return refuse<PersonError>({ field: "name", message: "Give the person a name." });
    if (name.length > 120) return refuse<PersonError>({ field: "name", message: "Keep the name under 120 characters." });
    // Who signs in by a name may have no address.
    const none = email === "" && p.signInName === true;
    if (!none && !isEmail(email))
      return refuse<PersonError>({ field: "email", message: "Write an e-mail address like dana@company.example." });
    if (!none && personIdByEmail(file, email))
      return refuse<PersonError>({
        field: "email",
        message: "Somebody in this portal has that e-mail address already. Add a membership to them instead.",
      });
    const id = p.id ?? newId();
    const values = { ...p.values, f_person_name: name, f_person_email: none ? null : email, f_person_status: p.status ?? "invited" };
    insertRow(file, schemaOf(file).people, id, values, made(owner));
    for (const m of p.memberships) {
      orRefuse(addMembership(file, owner, id, m.companyId, m.roles));
    }
    record(file, { ...by(owner), kind: "record-added", table: "t_people", record: id });
    return { id };
  });
}

/** Who acts and when, as events and as rows say it. */
const actorIn = (d: Doer): Actor => (d.kind === "joining" ? d.actor : actorOf(d));
const by = (d: Doer) => ({ actor: actorIn(d), via: "page" as const, at: d.now });
const made = (d: Doer): Made => ({ by: actorText(actorIn(d)), at: new Date(d.now).toISOString() });

/** `companyId` is null for the agency. Refused where they have one there, or a role is not of that side. */
export function addMembership(
  file: PortalFile,
  owner: Doer,
  personId: string,
  companyId: string | null,
  roles: string[],
): Result<{ id: string }, PersonError> {
  const known = published(file).definition.roles;
  const side = companyId ? "client" : "agency";
  if (companyId && !companyFacts(file, companyId)) return err({ field: "company", message: "Choose a company of this portal." });
  if (roles.length === 0) return err({ field: "roles", message: "Choose at least one role." });
  for (const r of roles) {
    const role = known.find((k) => k.id === r);
    if (!role || role.side !== side)
      return err({
        field: "roles",
        message: side === "client" ? "A membership in a company holds client roles." : "The agency's own people hold agency roles.",
      });
    if (role.companyId && role.companyId !== companyId) return err({ field: "roles", message: `${role.name} belongs to another company.` });
  }
  const same = and(
    eq(t.memberships.personId, personId),
    companyId ? eq(t.memberships.companyId, companyId) : isNull(t.memberships.companyId),
  );
  return transact(file, () => {
    const there = file.orm.select().from(t.memberships).where(same).get();
    const id = there?.id ?? newId();
    if (there) file.orm.update(t.memberships).set({ roles }).where(same).run();
    else
      file.orm
        .insert(t.memberships)
        .values({ id, personId, companyId, roles, createdAt: made(owner).at })
        .run();
    const kind = there ? "roles-changed" : "membership-given";
    record(file, { ...by(owner), kind, table: "t_people", record: personId, company: companyId, detail: roles.join(",") });
    return ok({ id });
  });
}

/** Ends what the person does there at once; answers what they held, or null where it was gone already. */
export function removeMembership(
  file: PortalFile,
  owner: Doer,
  personId: string,
  membershipId: string,
): { companyId: string | null; roles: string[] } | null {
  return transact(file, () => {
    const held = file.orm
      .delete(t.memberships)
      .where(and(eq(t.memberships.id, membershipId), eq(t.memberships.personId, personId)))
      .returning({ companyId: t.memberships.companyId, roles: t.memberships.roles })
      .get();
    if (!held) return null;
    file.orm.delete(t.sessions).where(eq(t.sessions.membershipId, membershipId)).run();
    record(file, { ...by(owner), kind: "membership-ended", table: "t_people", record: personId });
    return held;
  });
}

/** Whether clients may see them, where a grant opens it: for people of the agency alone. */
export function setShown(file: PortalFile, owner: Owner, personId: string, shown: boolean): Result<null, string> {
  const schema = schemaOf(file);
  if (!schema.people.fields.some((f) => f.id === SHOWN_FIELD)) return err("This portal's People has no such mark.");
  return transact(file, () => {
    const held = membershipsOf(file, personId);
    if (shown && (held.length === 0 || held.some((m) => m.companyId !== null)))
      return err("Only people of the agency, who belong to no company, are shown to clients.");
    updateRow(file, schema, schema.people, personId, { [SHOWN_FIELD]: shown }, made(owner));
    record(file, { ...by(owner), kind: shown ? "shown" : "hidden", table: "t_people", record: personId });
    return ok(null);
  });
}

/** Gives a person another e-mail, and records it. False, with nothing changed, where somebody else has it. */
export function setEmail(file: PortalFile, actor: Actor, personId: string, email: string, now: number): boolean {
  const schema = schemaOf(file);
  return transact(file, () => {
    const holder = personIdByEmail(file, email);
    if (holder && holder !== personId) return false;
    const before = { [EMAIL_FIELD]: personFacts(file, personId)?.email ?? null };
    const after = { [EMAIL_FIELD]: email };
    updateRow(file, schema, schema.people, personId, after, { by: actorText(actor), at: new Date(now).toISOString() });
    record(file, { actor, via: "page", at: now, kind: "address-changed", table: "t_people", record: personId, before, after });
    return true;
  });
}

/** Inactive, or anything but active, is out at once: sessions end and links stop working in the same act. */
export function setStatus(file: PortalFile, actor: Actor, personId: string, status: PersonStatus, now: number): void {
  const schema = schemaOf(file);
  transact(file, () => {
    updateRow(
      file,
      schema,
      schema.people,
      personId,
      { f_person_status: status },
      { by: actorText(actor), at: new Date(now).toISOString() },
    );
    if (status !== "active") {
      file.orm.delete(t.sessions).where(eq(t.sessions.personId, personId)).run();
      if (status !== "invited") file.orm.delete(t.links).where(eq(t.links.personId, personId)).run();
    }
    record(file, { actor, via: "page", at: now, kind: "status-set", table: "t_people", record: personId, detail: status });
  });
}
