"use server";
/** Companies, people, invitations and statuses. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { actorOf } from "@/core/events/event";
import type { EventKind } from "@/core/events/kinds";
import { record } from "@/data/events/record";
import { transact } from "@/data/file/transact";
import { nameProblem, setSignInName, setUntil } from "@/data/people/account";
import {
  addCompany,
  addMembership,
  addPerson,
  membershipsOf,
  personFacts,
  removeMembership,
  setShown,
  setStatus,
} from "@/data/people/people";
import { doorSettings } from "@/identity/doors/settings";
import { storePassword } from "@/identity/entering/sign-in";
import { hashPassword, passwordProblem, temporaryPassword } from "@/identity/passwords/passwords";
import { portalAddress } from "@/identity/requests/addresses";
import { type OfficePortal, officePortalWrite } from "@/identity/requests/office-gate";
import { giveBack, makeLink, withdraw } from "@/identity/secrets/links";
import { endOtherSessions } from "@/identity/sessions/sessions";
import { type FormState, failed, succeeded } from "@/ui/forms/form";
import type { Undoable } from "@/ui/undoable-button";
import { inviteByPassword, whyNotInvited } from "./inviting-one";
import { noteWayMade, whyNoWay } from "./way-in";

const again = (p: OfficePortal): void => revalidatePath(p.at, "layout");

export async function addCompanyForm(slug: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "people");
  const done = addCompany(p.file, p.owner, String(data.get("name") ?? "").slice(0, 2_000));
  if (!done.ok) return failed(before, data, { [done.error.field]: done.error.message });
  again(p);
  return succeeded(before, "The company has been added.");
}

const personForm = z.object({
  name: z.string().trim().min(1, "Give the person a name.").max(120, "Keep the name under 120 characters."),
  email: z.string().trim().max(254, "That is too long for an e-mail address."),
  signInName: z.string().trim().max(100).default(""),
  company: z.string(),
});

export async function addPersonForm(slug: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "people");
  const parsed = personForm.safeParse(Object.fromEntries(data));
  if (!parsed.success) return failed(before, data, Object.fromEntries(parsed.error.issues.map((i) => [String(i.path[0]), i.message])));
  const { name, email, company, signInName } = parsed.data;
  if (!email && !signInName) return failed(before, data, { email: "Write their e-mail address." });
  if (signInName) {
    const unfit = doorSettings(p.file).names ? nameProblem(p.file, null, signInName) : "Allow sign-in names under Doors first.";
    if (unfit) return failed(before, data, { signInName: unfit });
  }
  const roles = data.getAll("roles").map(String);
  if (!company) return failed(before, data, { company: "Choose the company they belong to, or the agency." });
  const password = String(data.get("password") ?? "").slice(0, 2_000);
  if (password) {
    const unfit = unfitPassword(password, String(data.get("again") ?? ""), [name, email]);
    if (unfit) return failed(before, data, unfit);
  }
  const hash = password ? await hashPassword(password) : null;
  // Account and way in are made together, or neither.
  const done = transact(p.file, () => {
    const memberships = [{ companyId: company === "agency" ? null : company, roles }];
    const added = addPerson(p.file, p.owner, { name, email, memberships, signInName: signInName !== "" });
    if (added.ok && signInName) setSignInName(p.file, p.owner, added.value.id, signInName);
    if (added.ok && hash) inviteByPassword(p.file, p.owner, added.value.id, hash);
    return added;
  });
  if (!done.ok) return failed(before, data, { [done.error.field]: done.error.message });
  again(p);
  return succeeded(before, hash ? `${name} has been added, with that password.` : `${name} has been added. Nobody is told yet.`);
}

/** Of one that the agency sets by hand: it is replaced at the first sign-in. */
function unfitPassword(password: string, again: string, about: readonly string[]): Record<string, string> | null {
  if (password !== again) return { again: "The two passwords differ. Type it the same twice." };
  const problem = passwordProblem(password, about);
  return problem ? { password: problem } : null;
}

/** A password set by hand for somebody who is here and has none of their own. */
export async function setPasswordByHand(slug: string, personId: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "people");
  const person = personFacts(p.file, personId);
  if (!person) return failed(before, data, {}, "This person is gone.");
  if (person.password === "own")
    return failed(
      before,
      data,
      {},
      `${person.name} has a password of their own. Should it be forgotten, they ask for a link on the sign-in page.`,
    );
  const why = whyNotInvited(p.file, personId, "password");
  const not = why ? `${person.name} ${why}.` : whyNoWay(p, personId);
  if (not) return failed(before, data, {}, not);
  const password = String(data.get("password") ?? "").slice(0, 2_000);
  const unfit = unfitPassword(password, String(data.get("again") ?? ""), [person.name, person.email]);
  if (unfit) return failed(before, data, unfit);
  const hash = await hashPassword(password);
  transact(p.file, () => {
    noteWayMade(p, personId, "a temporary password");
    inviteByPassword(p.file, p.owner, personId, hash);
    endOtherSessions(p.file, personId, "");
  });
  again(p);
  return succeeded(before, `Set. ${person.name} chooses another at the first sign-in.`);
}

export async function keepUntil(slug: string, personId: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "people");
  const until = String(data.get("until") ?? "")
    .trim()
    .slice(0, 20);
  const done = setUntil(p.file, p.owner, personId, until || null);
  if (!done.ok) return failed(before, data, { until: done.error });
  again(p);
  return succeeded(before, until ? "Kept. After that day they are out." : "Kept. There is no last day.");
}

export async function keepSignInName(slug: string, personId: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "people");
  if (!doorSettings(p.file).names) return failed(before, data, {}, "Allow sign-in names under Doors first.");
  const done = setSignInName(p.file, p.owner, personId, String(data.get("signInName") ?? "").slice(0, 200));
  if (!done.ok) return failed(before, data, { signInName: done.error });
  again(p);
  return succeeded(before, "Kept.");
}

export async function addMembershipForm(slug: string, personId: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "people");
  const company = String(data.get("company") ?? "");
  if (!personFacts(p.file, personId)) return failed(before, data, {}, "This person is gone.");
  if (!company) return failed(before, data, { company: "Choose a company, or the agency." });
  const done = addMembership(p.file, p.owner, personId, company === "agency" ? null : company, data.getAll("roles").map(String));
  if (!done.ok) return failed(before, data, { [done.error.field]: done.error.message });
  again(p);
  return succeeded(before, "Saved.");
}

export async function endMembership(slug: string, personId: string, membershipId: string): Promise<Undoable> {
  const p = await officePortalWrite(slug, "people");
  const held = removeMembership(p.file, p.owner, personId, membershipId);
  again(p);
  return held ? { ok: true, undo: JSON.stringify(held) } : { ok: false, messages: ["This membership has ended already."] };
}

const held = z.object({ companyId: z.string().nullable(), roles: z.array(z.string()) });

/** Undo of an ending. Roles that have gone meanwhile, or a membership given there anew, are not written over. */
export async function giveBackMembership(
  slug: string,
  personId: string,
  text: string,
): Promise<{ ok: true } | { ok: false; messages: string[] }> {
  const p = await officePortalWrite(slug, "people");
  const parsed = held.safeParse(JSON.parse(text));
  if (!parsed.success || !personFacts(p.file, personId)) return { ok: false, messages: ["This membership could not be brought back."] };
  const { companyId, roles } = parsed.data;
  if (membershipsOf(p.file, personId).some((m) => m.companyId === companyId))
    return { ok: false, messages: ["They have been given a membership there meanwhile; it stays as it is."] };
  const done = addMembership(p.file, p.owner, personId, companyId, roles);
  again(p);
  return done.ok ? { ok: true } : { ok: false, messages: [done.error.message] };
}

export async function changeStatus(slug: string, personId: string, status: "active" | "inactive"): Promise<void> {
  const p = await officePortalWrite(slug, "people");
  if (personFacts(p.file, personId)) setStatus(p.file, actorOf(p.owner), personId, status, p.now);
  again(p);
}

export async function showToClients(slug: string, personId: string, shown: boolean): Promise<void> {
  const p = await officePortalWrite(slug, "people");
  if (personFacts(p.file, personId)) setShown(p.file, p.owner, personId, shown);
  again(p);
}

/** The open invitation works no more; it can be given back as it was. */
export async function withdrawInvitation(slug: string, personId: string): Promise<Undoable> {
  const p = await officePortalWrite(slug, "people");
  const done = withdraw(p.file, personId);
  if (done) noted(p, personId, "invitation-withdrawn");
  again(p);
  return done ? { ok: true, undo: personId } : { ok: false, messages: ["There is no open invitation any more."] };
}

export async function giveInvitationBack(slug: string, personId: string): Promise<{ ok: true } | { ok: false; messages: string[] }> {
  const p = await officePortalWrite(slug, "people");
  const done = giveBack(p.file, personId, p.now);
  if (done) noted(p, personId, "invitation-given-back");
  again(p);
  return done ? { ok: true } : { ok: false, messages: ["There is nothing to give back: invite them anew."] };
}

/** From a page that was loaded since. */
export async function bringInvitationBack(slug: string, personId: string): Promise<void> {
  await giveInvitationBack(slug, personId);
}

const noted = (p: OfficePortal, personId: string, kind: EventKind): void =>
  void record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind, table: "t_people", record: personId });

/** The text to send; it always carries the portal's address. The link or password is shown this once. */
export async function invitation(slug: string, personId: string, by: "link" | "password"): Promise<{ text: string } | { problem: string }> {
  const p = await officePortalWrite(slug, "people");
  const person = personFacts(p.file, personId);
  if (!person) return { problem: "This person is gone." };
  if (person.status !== "invited" && person.status !== "active")
    return { problem: `${person.name} is ${person.status}. Make them active first; then an invitation works.` };
  if (membershipsOf(p.file, personId).length === 0)
    return { problem: `${person.name} belongs to no company yet. Add a membership first, or they would see nothing.` };
  const not = whyNoWay(p, personId);
  if (not) return { problem: not };
  noteWayMade(p, personId, by === "link" ? "a link" : "a temporary password");
  const address = portalAddress(slug);
  const name = p.live.definition.portal.name;
  const first = person.name.split(" ")[0];
  if (by === "link") {
    const url = `${address}/link/${makeLink(p.file, personId, "invitation", p.now)}`;
    again(p);
    return {
      text: `Hello ${first},\n\n${name} has opened its portal to you:\n${address}\n\nThis link is yours alone, works once, and for 14 days:\n${url}\n`,
    };
  }
  const password = temporaryPassword();
  await storePassword(p.file, personId, password, true, p.now);
  again(p);
  return {
    text: `Hello ${first},\n\n${name} has opened its portal to you:\n${address}\n\nSign in as ${person.email} with this password; you will choose your own straight away:\n${password}\n`,
  };
}
