/** A list of people brought in and invited row by row: a row is added, placed and invited in one transaction, or left with its reason. */

import type { Owner } from "@/core/access/who/viewer";
import type { Invitee } from "@/core/exchange/invitees";
import { type Named, nearest } from "@/core/exchange/nearest";
import { err, ok, type Result } from "@/core/result";
import { isEmail } from "@/core/text/email";
import { fold } from "@/core/text/fold";
import { published } from "@/data/definition/published";
import { attempt, orRefuse, refuse } from "@/data/file/attempt";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { addCompany, addMembership, addPerson, membershipsOf, personFacts, personIdByEmail } from "@/data/people/people";
import { hashPassword, passwordProblem, temporaryPassword } from "@/identity/passwords/passwords";
import { type HandedOver, rest, type Ways } from "./invitations";
import { inviteByLink, inviteByPassword, whyNotInvited } from "./inviting-one";

export interface InviteesAsk {
  /** For people whose row names no company: the id of a company, "agency", or "" for none. */
  readonly company: string;
  /** Companies that are not there are made. */
  readonly make: boolean;
  /** Roles of people whose row names none. */
  readonly roles: readonly string[];
  readonly by: "link" | "password";
  readonly send: boolean;
  readonly note: string;
}

/** What would become of a row. */
export interface LookedAt {
  readonly line: number;
  readonly state: "new" | "there" | "wrong";
  /** Why it is wrong, or whom it meets. */
  readonly why: string;
  /** A company that would be made. */
  readonly makes: string | null;
}

interface Placed {
  readonly personId: string | null;
  /** Null is the agency. */
  readonly company: string | null | { readonly name: string };
  readonly roles: readonly string[];
}

/** By folded name; a name that two companies have means neither. */
function companiesByName(file: PortalFile): ReadonlyMap<string, string | "many"> {
  const found = new Map<string, string | "many">();
  for (const [key, id] of file.db.prepare("SELECT f_company_name_k, id FROM t_companies").raw().all() as [string, string][])
    found.set(key, found.has(key) ? "many" : id);
  return found;
}

const named = new WeakMap<ReadonlyMap<string, string>, readonly Named[]>();
/** Their names as they are written, for a name that is near to one of them. */
function companiesOf(file: PortalFile, by: ReadonlyMap<string, string>): readonly Named[] {
  let known = named.get(by);
  if (!known) named.set(by, (known = file.db.prepare("SELECT id, f_company_name AS name FROM t_companies").all() as Named[]));
  return known;
}

function placeOf(file: PortalFile, row: Invitee, ask: InviteesAsk, companies: ReadonlyMap<string, string>): Result<Placed, string> {
  if (row.again !== null) return err(`The same address stands on line ${row.again}.`);
  if (!isEmail(row.email)) return err(row.email ? `“${row.email.slice(0, 80)}” is no e-mail address.` : "It has no e-mail address.");
  if (!row.name || row.name.length > 120) return err("Its name is missing, or longer than 120 characters.");
  const known = row.company ? companies.get(fold(row.company)) : undefined;
  if (known === "many") return err(`Several companies are called ${row.company}.`);
  if (row.company && !known && !ask.make) return err(`No company is called ${row.company}.`);
  const near = row.company && !known ? nearest(row.company, companiesOf(file, companies), 1)[0] : undefined;
  if (near)
    return err(`No company is called ${row.company}. If ${near.name} is meant, write it so; if not, add the company by hand first.`);
  if (row.company.length > 120) return err("The company’s name is longer than 120 characters.");
  if (!row.company && !ask.company) return err("It says no company.");
  const company = row.company ? (known ?? { name: row.company }) : ask.company === "agency" ? null : ask.company;
  const side = company === null ? "agency" : "client";
  const all = published(file).definition.roles.filter((r) => r.side === side && (!r.companyId || r.companyId === company));
  const wanted = row.roles.length > 0 ? row.roles.map((n) => all.find((r) => fold(r.name) === fold(n))?.id ?? `?${n}`) : ask.roles;
  const strange = wanted.find((r) => r.startsWith("?"));
  if (strange) return err(`There is no role ${strange.slice(1)} ${side === "agency" ? "of the agency" : "of companies"}.`);
  const roles = wanted.filter((r) => all.some((x) => x.id === r));
  if (roles.length === 0) return err("It holds no role there: name one in the list, or tick first roles.");
  const personId = personIdByEmail(file, row.email) ?? null;
  const person = personId ? personFacts(file, personId) : undefined;
  if (person && person.status !== "invited" && person.status !== "active") return err(`${person.name} is ${person.status}.`);
  if (row.password) {
    const problem = passwordProblem(row.password, [row.name, row.email]);
    if (problem) return err(`Its password will not do. ${problem}`);
  }
  return ok({ personId, company, roles });
}

export function lookAtInvitees(file: PortalFile, _owner: Owner, rows: readonly Invitee[], ask: InviteesAsk): LookedAt[] {
  const companies = companiesByName(file);
  return rows.map((row): LookedAt => {
    const placed = placeOf(file, row, ask, companies);
    if (!placed.ok) return { line: row.line, state: "wrong", why: placed.error, makes: null };
    const { company, personId } = placed.value;
    if (personId && (ask.by === "password" || row.password) && personFacts(file, personId)?.password === "own")
      return { line: row.line, state: "wrong", why: `${personFacts(file, personId)?.name} has a password of their own.`, makes: null };
    const makes = company !== null && typeof company === "object" ? company.name : null;
    return { line: row.line, state: personId ? "there" : "new", why: personId ? (personFacts(file, personId)?.name ?? "") : "", makes };
  });
}

export interface BroughtIn {
  readonly batch: string;
  readonly invited: number;
  readonly left: { readonly line: number; readonly name: string; readonly why: string }[];
  readonly handed: HandedOver[];
}

/** Passwords are hashed before the transaction of their row: account and way in are made together or not at all. */
export async function bringIn(
  file: PortalFile,
  owner: Owner,
  by: string,
  rows: readonly Invitee[],
  ask: InviteesAsk,
  ways: Ways,
  batch = newId(),
): Promise<BroughtIn> {
  const left: BroughtIn["left"] = [];
  const handed: HandedOver[] = [];
  let invited = 0;
  const companies = new Map(companiesByName(file));
  for (const [i, row] of rows.entries()) {
    if (i % 10 === 9) await rest(); // others are answered in between
    const password = ask.by === "password" || row.password ? row.password || temporaryPassword() : null;
    const fit = placeOf(file, row, ask, companies);
    const hash = fit.ok && password !== null ? await hashPassword(password) : null;
    const done = attempt(file, () => {
      const id = settle(file, owner, row, orRefuse(placeOf(file, row, ask, companies)));
      const person = personFacts(file, id)!;
      const why =
        hash && person.password === "own" ? "has a password of their own" : (whyNotInvited(file, id) ?? (hash ? ways.whyNot(id) : null));
      if (why) refuse(`${person.name} ${why}.`);
      if (hash) {
        ways.made(id);
        inviteByPassword(file, owner, id, hash);
      } else inviteByLink(file, owner, id, { batch, note: ask.note, send: ask.send, by });
    });
    if (!done.ok) {
      left.push({ line: row.line, name: row.name, why: done.error });
      continue;
    }
    invited++;
    if (row.company && !companies.has(fold(row.company)))
      companies.set(fold(row.company), companiesByName(file).get(fold(row.company)) ?? "many");
    if (password !== null) handed.push({ name: row.name, email: row.email, password });
  }
  return { batch, invited, left, handed };
}

/** Who is there keeps name and roles; a place in another company is added. */
function settle(file: PortalFile, owner: Owner, row: Invitee, { personId, company, roles }: Placed): string {
  let companyId: string | null;
  if (company !== null && typeof company === "object") {
    const made = addCompany(file, owner, company.name);
    if (!made.ok) return refuse(made.error.message);
    companyId = made.value.id;
  } else companyId = company;
  if (!personId) {
    const added = addPerson(file, owner, { name: row.name, email: row.email, memberships: [{ companyId, roles: [...roles] }] });
    if (!added.ok) return refuse(added.error.message);
    return added.value.id;
  }
  if (!membershipsOf(file, personId).some((m) => m.companyId === companyId)) {
    const added = addMembership(file, owner, personId, companyId, [...roles]);
    if (!added.ok) return refuse(added.error.message);
  }
  return personId;
}
