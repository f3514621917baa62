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
import { z } from "zod";
import type { HeardBy } from "@/core/events/kinds";
import { record } from "@/data/events/record";
import { personFacts } from "@/data/people/people";
import { mailCodeDoor, smsCodeDoor } from "@/identity/doors/code";
import { beginNewPasskey, beginPasskey, keepNewPasskey, partyOf, passkeyDoor, removePasskey } from "@/identity/doors/passkey";
import { doorSettings } from "@/identity/doors/settings";
import { comeIn, passSecond, riseFrom } from "@/identity/entering/enter";
import { recordGuesses } from "@/identity/factors/guesses";
import { beginTotp, confirmTotp, removeSecond, secondState } from "@/identity/factors/second";
import type { Guessed } from "@/identity/factors/try-second";
import { trySecond } from "@/identity/factors/try-second";
import { beginLimits, countTry, forgetTries, waitFor } from "@/identity/limits/limits";
import { portalAddress } from "@/identity/requests/addresses";
import { codeAskedFor, forgetAskedFor, fromHere } from "@/identity/requests/cookies";
import { enterPortal, type PortalRequest } from "@/identity/requests/request";
import { text, word } from "@/identity/requests/takes";
import { isFresh } from "@/identity/sessions/sessions";
import { beginEmailChange, finishEmailChange } from "@/letters/email-change";
import { portalAction, portalCall, portalForm } from "@/office/portal-action";
import { modulesOf } from "@/ui/signing-in/qr";
import { landingOf } from "../landing";
import { sayOf } from "../queries";
import { refusedWords } from "./doors";

const textIn = (data: FormData, name: string, most = 200): string => String(data.get(name) ?? "").slice(0, most);

export const enterCode = portalForm([], async (r, form) => {
  const say = sayOf(r);
  const email = await codeAskedFor(r.file.id, r.base);
  if (!email) return form.failed({}, say("code.over"));
  const code = form.text("code");
  if (!/\d/.test(code)) return form.failed({ code: say("code.write") });
  const door = form.data.get("by") === "sms-code" ? smsCodeDoor : mailCodeDoor;
  const done = await comeIn(r.file, door, { email, code }, await fromHere(r.file.id, r.base, email), r.viewer.now);
  if (!done.ok) return form.failed({}, refusedWords(say, done.error, say("code.wrong")));
  await forgetAskedFor(r.file.id, r.base);
  await enterPortal(r.file, r.base, done.value.token, email);
  revalidatePath("/", "layout");
  redirect(landingOf(r, done.value.personId, form.data.get("to") as string | null));
});

/** Who is signed in for good, or waits for the second step. */
const whose = (r: PortalRequest): string | undefined => (r.session ?? r.half)?.personId;

export const giveSecond = portalForm([], async (r, form) => {
  if (!r.half) redirect(`${r.base}/sign-in`);
  const say = sayOf(r);
  const email = personFacts(r.file, r.half.personId)?.email ?? "";
  const tell = (what: Guessed): void => recordGuesses(r.file, r.half!.personId, what, r.viewer.now);
  const done = passSecond(r.file, r.half, form.text("code"), await fromHere(r.file.id, r.base, email), r.viewer.now, tell);
  if (!done.ok) return form.failed({ code: refusedWords(say, done.error, say("second.wrong")) });
  await enterPortal(r.file, r.base, done.value.token, email);
  revalidatePath("/", "layout");
  redirect(landingOf(r, r.half.personId, form.data.get("to") as string | null));
});

/** Begins, or finishes, as the button says. */
export const changeEmail = portalForm([], async (r, form) => {
  if (!r.session) redirect(`${r.base}/sign-in`);
  const say = sayOf(r);
  if (!isFresh(r.file, r.session, r.viewer.now)) return form.failed({}, say("me.not-fresh"));
  const from = await fromHere(r.file.id, r.base, personFacts(r.file, r.session.personId)?.email ?? "");
  const finish = form.data.get("act") === "finish";
  const done = finish
    ? finishEmailChange(r.file, r.session, { new: form.text("new", 50), old: form.text("old", 50) }, from, r.viewer.now)
    : beginEmailChange(r.file, r.session, form.text("email", 300), from, r.viewer.now);
  if (!done.ok) return form.failed(done.error as Record<string, string>, done.error[""]);
  revalidatePath("/", "layout");
  return form.succeeded(say(finish ? "email.changed" : "email.codes"));
});

/** About themselves: in the log for the agency, and told to them by a letter. */
const note = (r: PortalRequest, kind: HeardBy<"person">, personId: string): void =>
  void record(r.file, {
    actor: { kind: "person", id: personId },
    via: "page",
    at: r.viewer.now,
    kind,
    table: "t_people",
    record: personId,
  });

const party = (r: PortalRequest) => partyOf(portalAddress(r.slug));

export const askPasskey = portalCall([], async (r): Promise<PublicKeyCredentialRequestOptionsJSON | null> => {
  if (!doorSettings(r.file).open.includes("passkey")) return null;
  const limits = beginLimits(await fromHere(r.file.id, r.base, ""));
  if (waitFor(r.file.orm, limits, r.viewer.now) > 0) return null;
  countTry(r.file.orm, limits, r.viewer.now);
  return beginPasskey(r.file, party(r), r.viewer.now);
});

/** Where it leads, or what is wrong. */
export const comeByPasskey = portalCall(
  [z.custom<AuthenticationResponseJSON>(), text],
  async (r, response, to): Promise<{ to: string } | { problem: string }> => {
    const say = sayOf(r);
    const from = await fromHere(r.file.id, r.base, "");
    const done = await comeIn(r.file, passkeyDoor, { response, party: party(r) }, from, r.viewer.now);
    if (!done.ok) return { problem: refusedWords(say, done.error, say("passkey.wrong")) };
    forgetTries(r.file.orm, beginLimits(from));
    await enterPortal(r.file, r.base, done.value.token, personFacts(r.file, done.value.personId)?.email ?? null);
    revalidatePath("/", "layout");
    return { to: landingOf(r, done.value.personId, to) };
  },
);

type Asked<T> = { ok: true; value: T } | { ok: false; message: string };

/** Whose sign-in is fresh; or the sentence that says why it is not enough. */
function freshly(r: PortalRequest): { ok: true; personId: string } | { ok: false; message: string } {
  if (!r.session) return { ok: false, message: sayOf(r)("second.over") };
  return isFresh(r.file, r.session, r.viewer.now)
    ? { ok: true, personId: r.session.personId }
    : { ok: false, message: sayOf(r)("me.not-fresh") };
}

export const askNewPasskey = portalAction([], async (r): Promise<Asked<PublicKeyCredentialCreationOptionsJSON>> => {
  const f = freshly(r);
  if (!f.ok) return f;
  const person = personFacts(r.file, f.personId)!;
  const options = await beginNewPasskey(r.file, person, party(r), r.published.definition.portal.name, r.viewer.now);
  return options ? { ok: true, value: options } : { ok: false, message: sayOf(r)("passkey.many") };
});

export const keepPasskey = portalAction([z.custom<RegistrationResponseJSON>(), word], async (r, response, name): Promise<Asked<null>> => {
  const f = freshly(r);
  if (!f.ok) return f;
  const kept = await keepNewPasskey(r.file, f.personId, response, name.slice(0, 100), party(r), r.viewer.now);
  if (!kept) return { ok: false, message: sayOf(r)("passkey.not-kept") };
  note(r, "passkey-made", f.personId);
  revalidatePath("/", "layout");
  return { ok: true, value: null };
});

export const dropPasskey = portalCall([z.instanceof(FormData)], async (r, data): Promise<void> => {
  if (!r.session) redirect(`${r.base}/sign-in`);
  if (!isFresh(r.file, r.session, r.viewer.now)) redirect(`${r.base}/-/me?again=1`);
  if (removePasskey(r.file, r.session.personId, textIn(data, "id", 2_000))) note(r, "passkey-removed", r.session.personId);
  revalidatePath("/", "layout");
  redirect(`${r.base}/-/me`);
});

export interface Begun {
  readonly id: string;
  readonly secret: string;
  readonly uri: string;
  /** Rows of the QR code (ISO/IEC 18004) as a path of unit squares, and its width. */
  readonly path: string;
  readonly size: number;
}

/** Nothing counts until a code of it comes back. Somebody who has one proves it first. */
export const beginSecond = portalAction([], async (r): Promise<Asked<Begun>> => {
  const say = sayOf(r);
  const personId = whose(r);
  const person = personId ? personFacts(r.file, personId) : undefined;
  if (!person || (r.half && r.half.step !== "enrol")) return { ok: false, message: say("second.over") };
  if (r.session && !isFresh(r.file, r.session, r.viewer.now)) return { ok: false, message: say("me.not-fresh") };
  if (secondState(r.file, person.id).since !== null) return { ok: false, message: say("second.is-on") };
  const issuer = r.published.definition.portal.name;
  const begun = beginTotp(r.file, person.id, { account: person.email, issuer }, r.viewer.now);
  return { ok: true, value: { ...begun, ...modulesOf(begun.uri) } };
});

export type Confirmed = { ok: true; codes: string[] } | { ok: false; message: string };

export const confirmSecond = portalAction([word, word], async (r, id, code): Promise<Confirmed> => {
  const say = sayOf(r);
  const personId = whose(r);
  if (!personId || (r.half && r.half.step !== "enrol")) return { ok: false, message: say("second.over") };
  if (r.session && !isFresh(r.file, r.session, r.viewer.now)) return { ok: false, message: say("me.not-fresh") };
  const codes = confirmTotp(r.file, personId, String(id).slice(0, 60), String(code).slice(0, 20), r.viewer.now);
  if (!codes) return { ok: false, message: say("second.wrong") };
  note(r, "second-factor-on", personId);
  if (r.half) await enterPortal(r.file, r.base, riseFrom(r.file, r.half, r.viewer.now), personFacts(r.file, personId)?.email ?? null);
  return { ok: true, codes };
});

/** Off again, by who proves it. Where a role asks for it, the next sign-in makes another. */
export const endSecond = portalForm([], async (r, form) => {
  if (!r.session) redirect(`${r.base}/sign-in`);
  const say = sayOf(r);
  const from = await fromHere(r.file.id, r.base, personFacts(r.file, r.session.personId)?.email ?? "");
  const { personId } = r.session;
  const tell = (what: Guessed): void => recordGuesses(r.file, personId, what, r.viewer.now);
  const tried = trySecond(r.file, personId, form.text("code"), { from, now: r.viewer.now, tell });
  if (!tried.ok) return form.failed({ code: refusedWords(say, tried.error, say("second.wrong")) });
  removeSecond(r.file, personId);
  note(r, "second-factor-off", personId);
  revalidatePath("/", "layout");
  return form.succeeded(say("second.is-off"));
});
