"use server";
/** Doors beside the password, and the second step after any of them. */
import type {
  AuthenticationResponseJSON,
  PublicKeyCredentialCreationOptionsJSON,
  PublicKeyCredentialRequestOptionsJSON,
  RegistrationResponseJSON,
} from "@simplewebauthn/server";
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { actorOf } from "@/core/events/event";
import { record } from "@/data/events/record";
import { personFacts } from "@/data/people/people";
import { mailCodeDoor, smsCodeDoor } from "@/identity/doors/code";
import { beginNewPasskey, beginPasskey, keepNewPasskey, partyOf, passkeyDoor, removePasskey } from "@/identity/doors/passkey";
import { doorSettings } from "@/identity/doors/settings";
import { comeIn, passSecond, riseFrom } from "@/identity/entering/enter";
import { beginTotp, confirmTotp, removeSecond, secondState } from "@/identity/factors/second";
import type { Guessed } from "@/identity/factors/try-second";
import { trySecond } from "@/identity/factors/try-second";
import { beginLimits, countTry, forgetTries, waitFor } from "@/identity/limits/limits";
import { portalAddress } from "@/identity/requests/addresses";
import { codeAskedFor, forgetAskedFor, fromHere } from "@/identity/requests/cookies";
import { enterPortal, type PortalRequest, requestPortalWrite } from "@/identity/requests/request";
import { isFresh } from "@/identity/sessions/sessions";
import { beginEmailChange, finishEmailChange } from "@/letters/email-change";
import { tellOfChange, tellOfGuesses } from "@/letters/letters";
import { type FormState, failed, succeeded } from "@/ui/forms/form";
import { modulesOf } from "@/ui/signing-in/qr";
import { landingOf } from "../landing";
import { sayOf } from "../queries";
import { refusedWords } from "./doors";

const text = (data: FormData, name: string, most = 200): string => String(data.get(name) ?? "").slice(0, most);

export async function enterCode(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  const email = await codeAskedFor(r.file.id, r.base);
  if (!email) return failed(before, data, {}, say("code.over"));
  const code = text(data, "code");
  if (!/\d/.test(code)) return failed(before, data, { code: say("code.write") });
  const door = data.get("by") === "sms-code" ? smsCodeDoor : mailCodeDoor;
  const done = await comeIn(r.file, door, { email, code }, await fromHere(r.file.id, r.base, email), r.viewer.now);
  if (!done.ok) return failed(before, data, {}, refusedWords(say, done.error, say("code.wrong")));
  await forgetAskedFor(r.file.id, r.base);
  await enterPortal(r.file, r.base, done.value.token, email);
  revalidatePath("/", "layout");
  redirect(landingOf(r, done.value.personId, data.get("to") as string | null));
}

/** Who is signed in for good, or waits for the second step. */
const whose = (r: PortalRequest): string | undefined => (r.session ?? r.half)?.personId;

export async function giveSecond(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  if (!r.half) redirect(`${r.base}/sign-in`);
  const say = sayOf(r);
  const email = personFacts(r.file, r.half.personId)?.email ?? "";
  const tell = (what: Guessed): void => tellOfGuesses(r.file, r.half!.personId, what, r.viewer.now);
  const done = passSecond(r.file, r.half, text(data, "code"), await fromHere(r.file.id, r.base, email), r.viewer.now, tell);
  if (!done.ok) return failed(before, data, { code: refusedWords(say, done.error, say("second.wrong")) });
  await enterPortal(r.file, r.base, done.value.token, email);
  revalidatePath("/", "layout");
  redirect(landingOf(r, r.half.personId, data.get("to") as string | null));
}

/** Begins, or finishes, as the button says. */
export async function changeEmail(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  if (!r.session) redirect(`${r.base}/sign-in`);
  const say = sayOf(r);
  if (!isFresh(r.file, r.session, r.viewer.now)) return failed(before, data, {}, say("me.not-fresh"));
  const from = await fromHere(r.file.id, r.base, personFacts(r.file, r.session.personId)?.email ?? "");
  const finish = data.get("act") === "finish";
  const done = finish
    ? finishEmailChange(r.file, r.session, { new: text(data, "new", 50), old: text(data, "old", 50) }, from, r.viewer.now)
    : beginEmailChange(r.file, r.session, text(data, "email", 300), from, r.viewer.now);
  if (!done.ok) return failed(before, data, done.error as Record<string, string>, done.error[""]);
  revalidatePath("/", "layout");
  return succeeded(before, say(finish ? "email.changed" : "email.codes"));
}

const party = (r: PortalRequest) => partyOf(portalAddress(r.slug));

export async function askPasskey(): Promise<PublicKeyCredentialRequestOptionsJSON | null> {
  const r = await requestPortalWrite();
  if (!doorSettings(r.file).open.includes("passkey")) return null;
  const limits = beginLimits(await fromHere(r.file.id, r.base, ""));
  if (waitFor(r.file.orm, limits, r.viewer.now) > 0) return null;
  countTry(r.file.orm, limits, r.viewer.now);
  return beginPasskey(r.file, party(r), r.viewer.now);
}

/** Where it leads, or what is wrong. */
export async function comeByPasskey(response: AuthenticationResponseJSON, to: string): Promise<{ to: string } | { problem: string }> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  const from = await fromHere(r.file.id, r.base, "");
  const done = await comeIn(r.file, passkeyDoor, { response, party: party(r) }, from, r.viewer.now);
  if (!done.ok) return { problem: refusedWords(say, done.error, say("passkey.wrong")) };
  forgetTries(r.file.orm, beginLimits(from));
  await enterPortal(r.file, r.base, done.value.token, personFacts(r.file, done.value.personId)?.email ?? null);
  revalidatePath("/", "layout");
  return { to: landingOf(r, done.value.personId, to) };
}

type Asked<T> = { ok: true; value: T } | { ok: false; message: string };

/** Who is signed in, a moment ago. */
async function freshly(): Promise<{ r: PortalRequest; personId: string } | { message: string }> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  if (!r.session) return { message: say("second.over") };
  return isFresh(r.file, r.session, r.viewer.now) ? { r, personId: r.session.personId } : { message: say("me.not-fresh") };
}

export async function askNewPasskey(): Promise<Asked<PublicKeyCredentialCreationOptionsJSON>> {
  const f = await freshly();
  if ("message" in f) return { ok: false, message: f.message };
  const person = personFacts(f.r.file, f.personId)!;
  const options = await beginNewPasskey(f.r.file, person, party(f.r), f.r.published.definition.portal.name, f.r.viewer.now);
  return options ? { ok: true, value: options } : { ok: false, message: sayOf(f.r)("passkey.many") };
}

export async function keepPasskey(response: RegistrationResponseJSON, name: string): Promise<Asked<null>> {
  const f = await freshly();
  if ("message" in f) return { ok: false, message: f.message };
  const kept = await keepNewPasskey(f.r.file, f.personId, response, String(name).slice(0, 100), party(f.r), f.r.viewer.now);
  if (kept) {
    record(f.r.file, {
      actor: actorOf(f.r.viewer),
      via: "page",
      at: f.r.viewer.now,
      kind: "passkey-made",
      table: "t_people",
      record: f.personId,
    });
    tellOfChange(f.r.file, f.personId, "passkey made", f.r.viewer.now);
    revalidatePath("/", "layout");
  }
  return kept ? { ok: true, value: null } : { ok: false, message: sayOf(f.r)("passkey.not-kept") };
}

export async function dropPasskey(data: FormData): Promise<void> {
  const r = await requestPortalWrite();
  if (!r.session) redirect(`${r.base}/sign-in`);
  if (!isFresh(r.file, r.session, r.viewer.now)) redirect(`${r.base}/-/me?again=1`);
  if (removePasskey(r.file, r.session.personId, text(data, "id", 2_000))) {
    tellOfChange(r.file, r.session.personId, "passkey removed", r.viewer.now);
    record(r.file, {
      actor: actorOf(r.viewer),
      via: "page",
      at: r.viewer.now,
      kind: "passkey-removed",
      table: "t_people",
      record: r.session.personId,
    });
  }
  revalidatePath("/", "layout");
  redirect(`${r.base}/-/me`);
}

export interface Begun {
  readonly id: string;
  readonly secret: string;
  readonly uri: string;
  /** Rows of the QR code (ISO/IEC 18004) as a path of unit squares, and its width. */
  readonly path: string;
  readonly size: number;
}

/** Nothing counts until a code of it comes back. Somebody who has one proves it first. */
export async function beginSecond(): Promise<Asked<Begun>> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  const personId = whose(r);
  const person = personId ? personFacts(r.file, personId) : undefined;
  if (!person || (r.half && r.half.step !== "enrol")) return { ok: false, message: say("second.over") };
  if (r.session && !isFresh(r.file, r.session, r.viewer.now)) return { ok: false, message: say("me.not-fresh") };
  if (secondState(r.file, person.id).since !== null) return { ok: false, message: say("second.is-on") };
  const issuer = r.published.definition.portal.name;
  const begun = beginTotp(r.file, person.id, { account: person.email, issuer }, r.viewer.now);
  return { ok: true, value: { ...begun, ...modulesOf(begun.uri) } };
}

export type Confirmed = { ok: true; codes: string[] } | { ok: false; message: string };

export async function confirmSecond(id: string, code: string): Promise<Confirmed> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  const personId = whose(r);
  if (!personId || (r.half && r.half.step !== "enrol")) return { ok: false, message: say("second.over") };
  if (r.session && !isFresh(r.file, r.session, r.viewer.now)) return { ok: false, message: say("me.not-fresh") };
  const codes = confirmTotp(r.file, personId, String(id).slice(0, 60), String(code).slice(0, 20), r.viewer.now);
  if (!codes) return { ok: false, message: say("second.wrong") };
  tellOfChange(r.file, personId, "second on", r.viewer.now);
  if (r.half) await enterPortal(r.file, r.base, riseFrom(r.file, r.half, r.viewer.now), personFacts(r.file, personId)?.email ?? null);
  return { ok: true, codes };
}

/** Off again, by who proves it. Where a role asks for it, the next sign-in makes another. */
export async function endSecond(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  if (!r.session) redirect(`${r.base}/sign-in`);
  const say = sayOf(r);
  const from = await fromHere(r.file.id, r.base, personFacts(r.file, r.session.personId)?.email ?? "");
  const { personId } = r.session;
  const tell = (what: Guessed): void => tellOfGuesses(r.file, personId, what, r.viewer.now);
  const tried = trySecond(r.file, personId, text(data, "code"), { from, now: r.viewer.now, tell });
  if (!tried.ok) return failed(before, data, { code: refusedWords(say, tried.error, say("second.wrong")) });
  removeSecond(r.file, r.session.personId);
  tellOfChange(r.file, r.session.personId, "second off", r.viewer.now);
  revalidatePath("/", "layout");
  return succeeded(before, say("second.is-off"));
}
