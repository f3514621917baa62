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
import type { OfficePortal } from "@/identity/requests/office-gate";
import { jsonOf, word, yes } from "@/identity/requests/takes";
import { giveBack, makeLink, withdraw } from "@/identity/secrets/links";
import { endOtherSessions } from "@/identity/sessions/sessions";
import { officeAction, officeCall, officeForm } from "@/office/action";
import type { Undoable } from "@/ui/undoable-button";
import { inviteByPassword, whyNotInvited } from "./inviting-one";
import { noteWayMade, whyNoWay } from "./way-in";

const again = (p: OfficePortal): void => revalidatePath(p.at, "layout");

export const addCompanyForm = officeForm("people", [], (p, form) => {
  const done = addCompany(p.file, p.owner, form.text("name", 2_000));
  if (!done.ok) return form.failed({ [done.error.field]: done.error.message });
  again(p);
  return form.succeeded("The company has been added.");
});

const personForm = z.object({
  name: z.string().trim().min(1, "Give the person a name.").max(120, "Keep the name under 120 characters."),
  email: z.string().trim().max(254, "That is too long for an e-mail address."),
  signInName: z.string().trim().max(100).default(""),
  company: z.string(),
});

export const addPersonForm = officeForm("people", [], async (p, form) => {
  const read = form.read(personForm);
  if (!read.ok) return read.answer;
  const { name, email, company, signInName } = read.value;
  if (!email && !signInName) return form.failed({ email: "Write their e-mail address." });
  if (signInName) {
    const unfit = doorSettings(p.file).names ? nameProblem(p.file, null, signInName) : "Allow sign-in names under Doors first.";
    if (unfit) return form.failed({ signInName: unfit });
  }
  const roles = form.all("roles");
  if (!company) return form.failed({ company: "Choose the company they belong to, or the agency." });
  const password = form.text("password", 2_000);
  if (password) {
    const unfit = unfitPassword(password, form.text("again"), [name, email]);
    if (unfit) return form.failed(unfit);
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
  if (!done.ok) return form.failed({ [done.error.field]: done.error.message });
  again(p);
  return form.succeeded(hash ? `${name} has been added, with that password.` : `${name} has been added. Nobody is told yet.`);
});

/** What is wrong with a password that the agency sets by hand; it is replaced at the first sign-in. */
function unfitPassword(password: string, again: string, about: readonly string[]): Record<string, string> | null {
  if (password !== again) return { again: "The two passwords differ. Type it the same twice." };
  const problem = passwordProblem(password, about);
  return problem ? { password: problem } : null;
}

/** A password set by hand for somebody who is here and has none of their own. */
export const setPasswordByHand = officeForm("people", [word], async (p, form, personId) => {
  const person = personFacts(p.file, personId);
  if (!person) return form.failed({}, "This person is gone.");
  if (person.password === "own")
    return form.failed({}, `${person.name} has a password of their own. Should it be forgotten, they ask for a link on the sign-in page.`);
  const why = whyNotInvited(p.file, personId, "password");
  const not = why ? `${person.name} ${why}.` : whyNoWay(p, personId);
  if (not) return form.failed({}, not);
  const password = form.text("password", 2_000);
  const unfit = unfitPassword(password, form.text("again"), [person.name, person.email]);
  if (unfit) return form.failed(unfit);
  const hash = await hashPassword(password);
  transact(p.file, () => {
    noteWayMade(p, personId, "a temporary password");
    inviteByPassword(p.file, p.owner, personId, hash);
    endOtherSessions(p.file, personId, "");
  });
  again(p);
  return form.succeeded(`Set. ${person.name} chooses another at the first sign-in.`);
});

export const keepUntil = officeForm("people", [word], (p, form, personId) => {
  const until = form.text("until", 20).trim();
  const done = setUntil(p.file, p.owner, personId, until || null);
  if (!done.ok) return form.failed({ until: done.error });
  again(p);
  return form.succeeded(until ? "Kept. After that day they are out." : "Kept. There is no last day.");
});

export const keepSignInName = officeForm("people", [word], (p, form, personId) => {
  if (!doorSettings(p.file).names) return form.failed({}, "Allow sign-in names under Doors first.");
  const done = setSignInName(p.file, p.owner, personId, form.text("signInName", 200));
  if (!done.ok) return form.failed({ signInName: done.error });
  again(p);
  return form.succeeded("Kept.");
});

export const addMembershipForm = officeForm("people", [word], (p, form, personId) => {
  const company = form.text("company");
  if (!personFacts(p.file, personId)) return form.failed({}, "This person is gone.");
  if (!company) return form.failed({ company: "Choose a company, or the agency." });
  const done = addMembership(p.file, p.owner, personId, company === "agency" ? null : company, form.all("roles"));
  if (!done.ok) return form.failed({ [done.error.field]: done.error.message });
  again(p);
  return form.succeeded("Saved.");
});

export const endMembership = officeAction("people", [word, word], async (p, personId, membershipId): Promise<Undoable> => {
  const held = removeMembership(p.file, p.owner, personId, membershipId);
  again(p);
  return held ? { ok: true, undo: JSON.stringify(held) } : { ok: false, messages: ["This membership has ended already."] };
});

const held = z.object({ companyId: z.string().nullable(), roles: z.array(z.string()) });

/** Undo of an ending. Roles that have gone meanwhile, or a membership given there anew, are not written over. */
export const giveBackMembership = officeAction(
  "people",
  [word, jsonOf(held)],
  async (p, personId, { companyId, roles }): Promise<{ ok: true } | { ok: false; messages: string[] }> => {
    if (!personFacts(p.file, personId)) return { ok: false, messages: ["This membership could not be brought back."] };
    if (membershipsOf(p.file, personId).some((m) => m.companyId === companyId))
      return { ok: false, messages: ["They have been given a membership there meanwhile; it stays as it is."] };
    const done = addMembership(p.file, p.owner, personId, companyId, roles);
    again(p);
    return done.ok ? { ok: true } : { ok: false, messages: [done.error.message] };
  },
);

export const changeStatus = officeCall("people", [word, z.enum(["active", "inactive"])], async (p, personId, status): Promise<void> => {
  if (personFacts(p.file, personId)) setStatus(p.file, actorOf(p.owner), personId, status, p.now);
  again(p);
});

export const showToClients = officeCall("people", [word, yes], async (p, personId, shown): Promise<void> => {
  if (personFacts(p.file, personId)) setShown(p.file, p.owner, personId, shown);
  again(p);
});

/** The open invitation works no more; it can be given back as it was. */
export const withdrawInvitation = officeAction("people", [word], async (p, personId): Promise<Undoable> => {
  const done = withdraw(p.file, personId);
  if (done) noted(p, personId, "invitation-withdrawn");
  again(p);
  return done ? { ok: true, undo: personId } : { ok: false, messages: ["There is no open invitation any more."] };
});

export const giveInvitationBack = officeAction(
  "people",
  [word],
  async (p, personId): Promise<{ ok: true } | { ok: false; messages: string[] }> => {
    const done = giveBack(p.file, personId, p.now);
    if (done) noted(p, personId, "invitation-given-back");
    again(p);
    return done ? { ok: true } : { ok: false, messages: ["There is nothing to give back: invite them anew."] };
  },
);

/** From a page that was loaded since. */
export const bringInvitationBack = officeCall("people", [word], (p, personId): void => {
  if (giveBack(p.file, personId, p.now)) noted(p, personId, "invitation-given-back");
  again(p);
});

const noted = (p: OfficePortal, personId: string, kind: EventKind): void =>
  void record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind, table: "t_people", record: personId });

/** The text to send; it always carries the portal's address. The link or password is shown this once. */
export const invitation = officeCall(
  "people",
  [word, z.enum(["link", "password"])],
  async (p, personId, by): Promise<{ text: string } | { problem: string }> => {
    const person = personFacts(p.file, personId);
    if (!person) return { problem: "This person is gone." };
    if (person.status !== "invited" && person.status !== "active")
      return { problem: `${person.name} is ${person.status}. Make them active first; then an invitation works.` };
    if (membershipsOf(p.file, personId).length === 0)
      return { problem: `${person.name} belongs to no company yet. Add a membership first, or they would see nothing.` };
    const not = whyNoWay(p, personId);
    if (not) return { problem: not };
    noteWayMade(p, personId, by === "link" ? "a link" : "a temporary password");
    const address = portalAddress(p.slug);
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
  },
);
