"use server";
/** Invitations, one or very many in one act: sent now, or made ready to be looked at, printed and sent later. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { config } from "@/config";
import { isOccasion, occasion } from "@/core/messages/occasions";
import { asHtml, fillIn, templateProblem } from "@/core/messages/render";
import { newId } from "@/data/file/ids";
import { keepTemplate, messageById, sendNow, valueWords } from "@/data/messages/outbox";
import { endStop } from "@/data/messages/stops";
import { personFacts, personIdByEmail } from "@/data/people/people";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { text, word, words, yes } from "@/identity/requests/takes";
import { saidOf } from "@/letters/said";
import { officeAction, officeCall } from "@/office/action";
import { staleSignIn } from "@/office/fresh";
import { mailOf } from "@/services/mail";
import { type HandedOver, type InvitedAll, inviteAll, passwordsFor, type Ways } from "./invitations";
import { type BroughtIn, bringIn, type LookedAt, lookAtInvitees } from "./invitees";
import { peopleLike, type Search } from "./queries";
import { noteWayMade, whyNoWayFor } from "./way-in";

const MOST = 5_000;
const asked = z.object({
  ids: z
    .array(word)
    .min(1, "Choose somebody.")
    .max(MOST, `Choose up to ${MOST.toLocaleString("en-GB")} people.`),
  note: z.string().max(5_000),
  send: z.boolean(),
  batch: z.uuid().optional(),
});

export type Invited = ({ ok: true } & InvitedAll) | { ok: false; message: string };

/**
 * Each gets a link of their own; any earlier invitation of theirs is dead from then on. Of very many, the page asks some at a time, all
 * under one `batch`: so it says how far it is, and everybody else is answered in between.
 */
export const inviteMany = officeAction("people", [asked], async (p, given): Promise<Invited> => {
  const done = await inviteAll(p.file, p.owner, p.staff.name, given);
  if (!given.batch) revalidatePath(p.at, "layout");
  return { ok: true, ...done };
});

const waysOf = (p: OfficePortal): Ways => ({
  whyNot: (id) => whyNoWayFor(p, id),
  made: (id) => noteWayMade(p, id, "a temporary password"),
});

export type HandedAll = { ok: true; given: HandedOver[]; left: InvitedAll["left"] } | { ok: false; message: string };

/** Temporary passwords, shown this once. A few at a time: each is hashed. */
export const passwordsForMany = officeAction(
  "people",
  [z.array(word).min(1, "Choose somebody.").max(50).readonly()],
  async (p, ids): Promise<HandedAll> => {
    const stale = staleSignIn(p);
    if (stale) return { ok: false, message: stale };
    const done = await passwordsFor(p.file, p.owner, ids, waysOf(p));
    return { ok: true, ...done };
  },
);

const invitee = z.object({
  line: z.int().min(0),
  name: z.string().max(500),
  email: z.string().max(500),
  company: z.string().max(500),
  roles: z.array(z.string().max(200)).max(50).readonly(),
  password: z.string().max(1_000),
  again: z.int().nullable(),
});
const invitees = z.object({
  rows: z.array(invitee).min(1).max(1_000),
  ask: z.object({
    company: z.string().max(64),
    make: z.boolean(),
    roles: z.array(z.string()).max(50).readonly(),
    by: z.enum(["link", "password"]),
    send: z.boolean(),
    note: z.string().max(5_000),
  }),
  batch: z.uuid().optional(),
});
export const lookAtList = officeAction(
  "people",
  [invitees],
  async (p, given): Promise<{ ok: true; rows: LookedAt[] } | { ok: false; message: string }> => {
    return { ok: true, rows: lookAtInvitees(p.file, p.owner, given.rows, given.ask) };
  },
);

export const inviteList = officeAction(
  "people",
  [invitees],
  async (p, given): Promise<({ ok: true } & BroughtIn) | { ok: false; message: string }> => {
    const { rows, ask, batch } = given;
    const done = await bringIn(p.file, p.owner, p.staff.name, rows, ask, waysOf(p), batch);
    return { ok: true, ...done };
  },
);

/** Messages that are ready or have failed; all of them of one act where `batch` says so. */
export const sendMessages = officeCall("people", [words, word.nullable()], async (p, ids, batch): Promise<{ sent: number }> => {
  const all = batch
    ? (p.file.db.prepare("SELECT id FROM sys_messages WHERE batch = ? AND state IN ('ready', 'failed')").pluck().all(batch) as string[])
    : ids.map(String).slice(0, MOST);
  const sent = sendNow(p.file, p.owner, all);
  revalidatePath(p.at, "layout");
  return { sent };
});

/** The owner knows that the address works again. Whoever wants no mail is not overruled. */
export const tryAddressAgain = officeCall("people", [word], async (p, messageId): Promise<void> => {
  const m = messageById(p.file, messageId);
  if (m && endStop(p.file, m.email, "bounce")) sendNow(p.file, p.owner, [m.id]);
  revalidatePath(p.at, "layout");
});

export const changeTemplate = officeCall(
  "build",
  [word, z.object({ subject: text, body: text }).nullable()],
  async (p, id, given): Promise<{ message: string | null }> => {
    if (!isOccasion(id)) return { message: "There is no such message." };
    const template = given && { subject: String(given.subject).slice(0, 300), body: String(given.body).slice(0, 20_000) };
    const message = keepTemplate(p.file, p.owner, id, template);
    if (!message) revalidatePath(p.at, "layout");
    return { message };
  },
);

/** Ids of everybody who fits, on every page of the list. */
export const everyoneLike = officeCall("people", [z.custom<Search>()], async (p, search): Promise<string[]> => {
  const { q, company, standing } = search;
  return peopleLike(p, { q: String(q ?? "").slice(0, 200), company: String(company ?? ""), standing: String(standing ?? "") })
    .fitting.map((x) => x.id)
    .slice(0, MOST);
});

export type Tried = { ok: true; subject: string; body: string } | { ok: false; message: string };

/**
 * A template as it is being written, filled for somebody: for a person of the portal where one is named, else for whoever tries it. Sent to
 * oneself where that is wanted. Links and codes in it are examples, and open nothing.
 */
export const tryTemplate = officeCall(
  "build",
  [word, z.object({ subject: text, body: text, email: word, send: yes })],
  async (p, id, given): Promise<Tried> => {
    if (!isOccasion(id)) return { ok: false, message: "There is no such message." };
    const template = { subject: String(given.subject).slice(0, 300), body: String(given.body).slice(0, 20_000) };
    const problem = templateProblem(
      occasion(id),
      template,
      valueWords(p.file).map((w) => w.word),
    );
    if (problem) return { ok: false, message: problem };
    const wanted = String(given.email).trim().slice(0, 300);
    const personId = wanted ? personIdByEmail(p.file, wanted) : undefined;
    if (wanted && !personId) return { ok: false, message: "Nobody in this portal has that address." };
    const who = (personId && personFacts(p.file, personId)) || p.staff;
    const said = {
      ...saidOf(p.file, personId ? { ...who, id: personId } : { name: who.name, email: who.email }, p.now, true),
      by: p.staff.name,
      note: "A few words of your own.",
      link: `${portalAddress(p.slug)}/link/an-example-that-opens-nothing`,
      code: "123 456",
    };
    const filled = fillIn(template, said);
    if (given.send === true) {
      const sent = await mailOf(config()).send(
        {
          to: p.staff.email,
          subject: filled.subject,
          text: filled.body,
          html: asHtml(filled.body, { name: said.portal, primary: p.live.definition.brand.colour }),
        },
        `trial-${newId()}`,
      );
      if (!sent.ok) return { ok: false, message: sent.error.message };
    }
    return { ok: true, ...filled };
  },
);
