"use server";
/** What people do in a portal. Each action: the request of this host, parse, decide, store, answer. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { isRelation } from "@/core/schema/fields/natures";
import type { Table } from "@/core/schema/types";
import { listIn } from "@/core/text/format";
import type { Say } from "@/core/words/words";
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
import { enterPortal, requestPortalWrite } from "@/identity/requests/request";
import { elsewhereCode, lookAtLink } from "@/identity/secrets/links";
import { actIn, endOneOf, endOtherSessions, endSession } from "@/identity/sessions/sessions";
import { tellOfChange, wantDoor, wantFresh, wantLink } from "@/letters/letters";
import { type FormState, failed, succeeded } from "@/ui/forms/form";
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

const fieldErrors = (e: z.ZodError): Record<string, string> => Object.fromEntries(e.issues.map((i) => [String(i.path[0]), i.message]));

const spaced = (code: string): string => `${code.slice(0, 3)} ${code.slice(3)}`;

const CODES: readonly string[] = ["mail-code", "sms-code"];

/** One form for whoever it is: the button says by which door. Whose e-mail it is, decides nothing that a stranger could see. */
export async function signIn(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  const way = String(data.get("door") ?? "");
  if (CODES.includes(way)) return askForCode(r, way as "mail-code" | "sms-code", before, data);
  if (way === "outside") return toOrganisation(r, before, data);
  const parsed = signInForm(say).safeParse(Object.fromEntries(data));
  if (!parsed.success) return failed(before, data, fieldErrors(parsed.error));
  const { email, password } = parsed.data;
  const done = await signInWithPassword(r.file, email, password, await fromHere(r.file.id, r.base, email), r.viewer.now);
  if (!done.ok) return failed(before, data, {}, refusedWords(say, done.error, say("door.wrong")));
  await enterPortal(r.file, r.base, done.value.token, email);
  revalidatePath("/", "layout");
  redirect(landingOf(r, done.value.personId, data.get("to") as string | null));
}

/** To the sign-in of the organisation that the address belongs to. Nobody is told which organisations there are. */
function toOrganisation(r: PortalRequest, before: FormState, data: FormData): FormState {
  const say = sayOf(r);
  const email = String(data.get("email") ?? "")
    .trim()
    .slice(0, 300);
  const domain = email.slice(email.lastIndexOf("@") + 1);
  if (!email.includes("@")) return failed(before, data, { email: say("outside.write-email") });
  const found = organisationsOf(r, domain);
  const to = encodeURIComponent(safePath(data.get("to") as string | null));
  if (found.length === 0) return failed(before, data, { email: say("outside.none") });
  redirect(
    found.length === 1 ? `${r.base}/-/outside/${found[0]!.id}?to=${to}` : `${r.base}/sign-in?to=${to}&at=${encodeURIComponent(domain)}`,
  );
}

async function askForCode(r: PortalRequest, way: "mail-code" | "sms-code", before: FormState, data: FormData): Promise<FormState> {
  const say = sayOf(r);
  const email = String(data.get("email") ?? "").trim();
  if (email === "") return failed(before, data, { email: say("door.write-email") });
  if (email.length > 300) return failed(before, data, { email: say("door.email-too-long") });
  wantDoor(r.file, email, way, await fromHere(r.file.id, r.base, email), r.viewer.now);
  await rememberAskedFor(r.file.id, r.base, email);
  redirect(`${r.base}/-/code?by=${way}&to=${encodeURIComponent(safePath(data.get("to") as string | null))}`);
}

/** Whatever the e-mail, the answer is the same and comes as soon: whose it is, is found out afterwards. */
export async function askForLink(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  const email = String(data.get("email") ?? "").trim();
  if (email === "") return failed(before, data, { email: say("door.write-email") });
  if (email.length > 300) return failed(before, data, { email: say("door.email-too-long") });
  const asked = await linkBrowser(r.file.id, r.base);
  await rememberTo(r.file.id, r.base, safePath(data.get("to") as string | null));
  wantLink(r.file, email, await fromHere(r.file.id, r.base, email), r.viewer.now, asked);
  return succeeded(
    before,
    `${say("forgotten.sent", { email })} ${say("forgotten.elsewhere", { code: spaced(elsewhereCode(r.file, asked)) })}`,
  );
}

/** The holder of a dead link is told nothing of whose it was, or where the fresh one goes. */
export async function askForFresh(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const asked = await linkBrowser(r.file.id, r.base);
  wantFresh(r.file, String(data.get("token") ?? "").slice(0, 500), await fromHere(r.file.id, r.base, ""), r.viewer.now, asked);
  return succeeded(before, sayOf(r)("link.fresh-sent"));
}

export async function openLink(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const from = await fromHere(r.file.id, r.base, "");
  const token = String(data.get("token") ?? "");
  const link = lookAtLink(r.file, token, r.viewer.now);
  const by = { browser: await linkBrowserHere(r.file.id, r.base), code: String(data.get("code") ?? "").slice(0, 50) };
  const done = await signInWithLink(r.file, token, from, r.viewer.now, by);
  if (!done.ok) return failed(before, data, {}, refusedWords(sayOf(r), done.error, sayOf(r)("link.wrong-code")));
  await enterPortal(r.file, r.base, done.value.token, personFacts(r.file, done.value.personId)?.email ?? null);
  revalidatePath("/", "layout");
  if (link.state === "good" && link.purpose === "standing") redirect(landingOf(r, done.value.personId, null));
  const to = await rememberedTo(r.file.id, r.base);
  redirect(`${r.base}/new-password?first=1${to === "/" ? "" : `&to=${encodeURIComponent(to)}`}`);
}

export async function newPassword(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const session = r.session ?? r.choosing;
  if (!session) redirect(`${r.base}/sign-in`);
  const text = (name: string): string => String(data.get(name) ?? "").slice(0, 2_000);
  const email = personFacts(r.file, session.personId)?.email ?? "";
  const from = await fromHere(r.file.id, r.base, email);
  const given = { password: text("password"), present: text("present") };
  const done = await choosePassword(r.file, session, given, from, r.viewer.now);
  if (!done.ok) return failed(before, data, done.error);
  tellOfChange(r.file, session.personId, "password", r.viewer.now);
  await enterPortal(r.file, r.base, done.value.token, email);
  // The header and the menu are of whoever it is from now on.
  revalidatePath("/", "layout");
  redirect(r.base + safePath(data.get("to") as string | null) || "/");
}

/** One of one's own sessions, or all but this one. */
export async function endSessions(data: FormData): Promise<void> {
  const r = await requestPortalWrite();
  if (!r.session) redirect(`${r.base}/sign-in`);
  const which = String(data.get("which") ?? "");
  if (which === "others") endOtherSessions(r.file, r.session.personId, r.session.hash);
  else endOneOf(r.file, r.session.personId, which);
  revalidatePath("/", "layout");
  redirect(`${r.base}/-/me`);
}

export async function signOut(): Promise<void> {
  const r = await requestPortalWrite();
  const token = await clearSessionCookie(r.file.id, r.base);
  if (token) endSession(r.file, token);
  redirect(`${r.base}/sign-in?out=1`);
}

export async function actFor(data: FormData): Promise<void> {
  const r = await requestPortalWrite();
  const id = String(data.get("membership") ?? "");
  if (r.session && membershipsOf(r.file, r.session.personId).some((m) => m.id === id)) actIn(r.file, r.session, id);
  revalidatePath("/", "layout");
  redirect(r.base || "/");
}

/** A refusal; where the form points to records, another of them may be what was meant. */
function refused(r: PortalRequest, table: Table, before: FormState, data: FormData, e: WriteError): FormState {
  const { fields, message } = refusedIn(r, e);
  if (e.code !== "not-allowed" && e.code !== "not-found") return failed(before, data, fields, message);
  const pointing = r.desk.nameable(table).filter((f) => isRelation(f) && data.has(f.id));
  const say = sayOf(r);
  const names = listIn(
    pointing.map((f) => f.name),
    localeOf(r).locale,
  );
  return failed(before, data, fields, pointing.length > 0 ? say("form.not-allowed-pointing", { fields: names }) : say("form.not-allowed"));
}

const tableOf = (r: PortalRequest, data: FormData): Table => {
  const table = r.published.policy.schema.tableBySlug(String(data.get("$table") ?? ""));
  if (!table) redirect(r.base || "/");
  return table;
};

export async function addInPortal(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const table = tableOf(r, data);
  const other = actingProblem(r, String(data.get("$acting") ?? ""));
  if (other) return failed(before, data, {}, other);
  const stranger = r.viewer.kind === "visitor" ? await strangerProblem(r, data) : null;
  if (stranger !== null) return failed(before, data, {}, stranger || sayOf(r)("form.not-allowed"));
  const { values, errors } = readForm(r.desk, table, data);
  if (Object.keys(errors).length > 0) return failed(before, data, errors);
  const filling = String(data.get("$filling") ?? "").slice(0, 100);
  const add = () => r.desk.add(table, values);
  const done = filling ? addOnce(r.desk, filling, add) : add();
  if (!done.ok) return refused(r, table, before, data, done.error);
  redirect(`${r.base}/${table.slug}/${done.value.id}?added=1`);
}

export async function changeInPortal(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const table = tableOf(r, data);
  const id = String(data.get("$id") ?? "");
  const other = actingProblem(r, String(data.get("$acting") ?? ""));
  if (other) return failed(before, data, {}, other);
  const { values, errors } = readForm(r.desk, table, data);
  if (Object.keys(errors).length > 0) return failed(before, data, errors);
  const done = r.desk.change(table, id, values, String(data.get("$seen") ?? ""));
  if (!done.ok) return refused(r, table, before, data, done.error);
  redirect(`${r.base}/${table.slug}/${id}?saved=1`);
}
