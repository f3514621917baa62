"use server";
/** What people do in a portal. Each action: the request of this host, parse, decide, store, answer. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { isRelation } from "@/core/schema/fields/natures";
import type { Table } from "@/core/schema/types";
import { listIn } from "@/core/text/format";
import type { Say } from "@/core/words/words";
import { record } from "@/data/events/record";
import { membershipsOf, personFacts } from "@/data/people/people";
import { readForm } from "@/data/records/form";
import type { WriteError } from "@/data/records/write/incoming";
import { addOnce } from "@/data/records/write/sent-once";
import { choosePassword, signInWithLink, signInWithPassword } from "@/identity/entering/sign-in";
import {
  clearSessionCookie,
  fromHere,
  linkBrowser,
  linkBrowserHere,
  rememberAskedFor,
  rememberedTo,
  rememberTo,
} from "@/identity/requests/cookies";
import type { PortalRequest } from "@/identity/requests/request";
import { enterPortal } from "@/identity/requests/request";
import { elsewhereCode, lookAtLink } from "@/identity/secrets/links";
import { actIn, endOneOf, endOtherSessions, endSession } from "@/identity/sessions/sessions";
import { wantDoor, wantFresh, wantLink } from "@/letters/door";
import { portalCall, portalForm } from "@/office/portal-action";
import type { FormState } from "@/ui/forms/form";
import type { SentForm } from "@/ui/forms/sent-form";
import { safePath } from "../entry";
import { landingOf } from "../landing";
import { localeOf, sayOf } from "../queries";
import { actingProblem } from "../records/forms";
import { refusedIn } from "../records/used-up";
import { organisationsOf, refusedWords } from "./doors";
import { strangerProblem } from "./strangers";

const signInForm = (say: Say) =>
  z.object({
    email: z.string().trim().min(1, say("door.write-email")).max(300, say("door.email-too-long")),
    password: z.string().min(1, say("door.write-password")).max(1_000, say("door.password-too-long")),
  });

const spaced = (code: string): string => `${code.slice(0, 3)} ${code.slice(3)}`;

const CODES: readonly string[] = ["mail-code", "sms-code"];

/** One form for whoever it is: the button says by which door. Whose e-mail it is, decides nothing that a stranger could see. */
export const signIn = portalForm([], async (r, form) => {
  const say = sayOf(r);
  const way = form.text("door");
  if (CODES.includes(way)) return askForCode(r, way as "mail-code" | "sms-code", form);
  if (way === "outside") return toOrganisation(r, form);
  const read = form.read(signInForm(say));
  if (!read.ok) return read.answer;
  const { email, password } = read.value;
  const done = await signInWithPassword(r.file, email, password, await fromHere(r.file.id, r.base, email), r.viewer.now);
  if (!done.ok) return form.failed({}, refusedWords(say, done.error, say("door.wrong")));
  await enterPortal(r.file, r.base, done.value.token, email);
  revalidatePath("/", "layout");
  redirect(landingOf(r, done.value.personId, form.data.get("to") as string | null));
});

/** To the sign-in of the organisation that the address belongs to. Nobody is told which organisations there are. */
function toOrganisation(r: PortalRequest, form: SentForm): FormState {
  const say = sayOf(r);
  const email = form.text("email", 300).trim();
  const domain = email.slice(email.lastIndexOf("@") + 1);
  if (!email.includes("@")) return form.failed({ email: say("outside.write-email") });
  const found = organisationsOf(r, domain);
  const to = encodeURIComponent(safePath(form.data.get("to") as string | null));
  if (found.length === 0) return form.failed({ email: say("outside.none") });
  redirect(
    found.length === 1 ? `${r.base}/-/outside/${found[0]!.id}?to=${to}` : `${r.base}/sign-in?to=${to}&at=${encodeURIComponent(domain)}`,
  );
}

async function askForCode(r: PortalRequest, way: "mail-code" | "sms-code", form: SentForm): Promise<FormState> {
  const say = sayOf(r);
  const email = form.text("email").trim();
  if (email === "") return form.failed({ email: say("door.write-email") });
  if (email.length > 300) return form.failed({ email: say("door.email-too-long") });
  wantDoor(r.file, email, way, await fromHere(r.file.id, r.base, email), r.viewer.now);
  await rememberAskedFor(r.file.id, r.base, email);
  redirect(`${r.base}/-/code?by=${way}&to=${encodeURIComponent(safePath(form.data.get("to") as string | null))}`);
}

/** Whatever the e-mail, the answer is the same and comes as soon: whose it is, is found out afterwards. */
export const askForLink = portalForm([], async (r, form) => {
  const say = sayOf(r);
  const email = form.text("email").trim();
  if (email === "") return form.failed({ email: say("door.write-email") });
  if (email.length > 300) return form.failed({ email: say("door.email-too-long") });
  const asked = await linkBrowser(r.file.id, r.base);
  await rememberTo(r.file.id, r.base, safePath(form.data.get("to") as string | null));
  wantLink(r.file, email, await fromHere(r.file.id, r.base, email), r.viewer.now, asked);
  return form.succeeded(
    `${say("forgotten.sent", { email })} ${say("forgotten.elsewhere", { code: spaced(elsewhereCode(r.file, asked)) })}`,
  );
});

/** The holder of a dead link is told nothing of whose it was, or where the fresh one goes. */
export const askForFresh = portalForm([], async (r, form) => {
  const asked = await linkBrowser(r.file.id, r.base);
  wantFresh(r.file, form.text("token", 500), await fromHere(r.file.id, r.base, ""), r.viewer.now, asked);
  return form.succeeded(sayOf(r)("link.fresh-sent"));
});

export const openLink = portalForm([], async (r, form) => {
  const from = await fromHere(r.file.id, r.base, "");
  const token = form.text("token");
  const link = lookAtLink(r.file, token, r.viewer.now);
  const by = { browser: await linkBrowserHere(r.file.id, r.base), code: form.text("code", 50) };
  const done = await signInWithLink(r.file, token, from, r.viewer.now, by);
  if (!done.ok) return form.failed({}, refusedWords(sayOf(r), done.error, sayOf(r)("link.wrong-code")));
  await enterPortal(r.file, r.base, done.value.token, personFacts(r.file, done.value.personId)?.email ?? null);
  revalidatePath("/", "layout");
  if (link.state === "good" && link.purpose === "standing") redirect(landingOf(r, done.value.personId, null));
  const to = await rememberedTo(r.file.id, r.base);
  redirect(`${r.base}/new-password?first=1${to === "/" ? "" : `&to=${encodeURIComponent(to)}`}`);
});

export const newPassword = portalForm([], async (r, form) => {
  const session = r.session ?? r.choosing;
  if (!session) redirect(`${r.base}/sign-in`);
  const text = (name: string): string => String(form.data.get(name) ?? "").slice(0, 2_000);
  const email = personFacts(r.file, session.personId)?.email ?? "";
  const from = await fromHere(r.file.id, r.base, email);
  const given = { password: text("password"), present: text("present") };
  const done = await choosePassword(r.file, session, given, from, r.viewer.now);
  if (!done.ok) return form.failed(done.error);
  const actor = { kind: "person", id: session.personId } as const;
  record(r.file, { actor, via: "page", at: r.viewer.now, kind: "password-chosen", table: "t_people", record: session.personId });
  await enterPortal(r.file, r.base, done.value.token, email);
  // The header and the menu are of whoever it is from now on.
  revalidatePath("/", "layout");
  redirect(r.base + safePath(form.data.get("to") as string | null) || "/");
});

/** Ends one of one's own sessions, or all but this one. */
export const endSessions = portalCall([z.instanceof(FormData)], async (r, data): Promise<void> => {
  if (!r.session) redirect(`${r.base}/sign-in`);
  const which = String(data.get("which") ?? "");
  if (which === "others") endOtherSessions(r.file, r.session.personId, r.session.hash);
  else endOneOf(r.file, r.session.personId, which);
  revalidatePath("/", "layout");
  redirect(`${r.base}/-/me`);
});

export const signOut = portalCall([], async (r): Promise<void> => {
  const token = await clearSessionCookie(r.file.id, r.base);
  if (token) endSession(r.file, token);
  redirect(`${r.base}/sign-in?out=1`);
});

export const actFor = portalCall([z.instanceof(FormData)], async (r, data): Promise<void> => {
  const id = String(data.get("membership") ?? "");
  if (r.session && membershipsOf(r.file, r.session.personId).some((m) => m.id === id)) actIn(r.file, r.session, id);
  revalidatePath("/", "layout");
  redirect(r.base || "/");
});

/** A refusal; where the form points to records, another of them may be what was meant. */
function refused(r: PortalRequest, table: Table, form: SentForm, e: WriteError): FormState {
  const { fields, message } = refusedIn(r, e);
  if (e.code !== "not-allowed" && e.code !== "not-found") return form.failed(fields, message);
  const pointing = r.desk.nameable(table).filter((f) => isRelation(f) && form.data.has(f.id));
  const say = sayOf(r);
  const names = listIn(
    pointing.map((f) => f.name),
    localeOf(r).locale,
  );
  return form.failed(fields, pointing.length > 0 ? say("form.not-allowed-pointing", { fields: names }) : say("form.not-allowed"));
}

const tableOf = (r: PortalRequest, data: FormData): Table => {
  const table = r.published.policy.schema.tableBySlug(String(data.get("$table") ?? ""));
  if (!table) redirect(r.base || "/");
  return table;
};

export const addInPortal = portalForm([], async (r, form) => {
  const table = tableOf(r, form.data);
  const other = actingProblem(r, form.text("$acting"));
  if (other) return form.failed({}, other);
  const stranger = r.viewer.kind === "visitor" ? await strangerProblem(r, form.data) : null;
  if (stranger !== null) return form.failed({}, stranger || sayOf(r)("form.not-allowed"));
  const { values, errors } = readForm(r.desk, table, form.data);
  if (Object.keys(errors).length > 0) return form.failed(errors);
  const filling = form.text("$filling", 100);
  const add = () => r.desk.add(table, values);
  const done = filling ? addOnce(r.desk, filling, add) : add();
  if (!done.ok) return refused(r, table, form, done.error);
  redirect(`${r.base}/${table.slug}/${done.value.id}?added=1`);
});

export const changeInPortal = portalForm([], (r, form) => {
  const table = tableOf(r, form.data);
  const id = form.text("$id");
  const other = actingProblem(r, form.text("$acting"));
  if (other) return form.failed({}, other);
  const { values, errors } = readForm(r.desk, table, form.data);
  if (Object.keys(errors).length > 0) return form.failed(errors);
  const done = r.desk.change(table, id, values, form.text("$seen"));
  if (!done.ok) return refused(r, table, form, done.error);
  redirect(`${r.base}/${table.slug}/${id}?saved=1`);
});
