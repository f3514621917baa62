"use server";
/** Ways into the back office beside the password: a passkey, and a link by mail for who has forgotten theirs. */
import type {
  AuthenticationResponseJSON,
  PublicKeyCredentialCreationOptionsJSON,
  PublicKeyCredentialRequestOptionsJSON,
  RegistrationResponseJSON,
} from "@simplewebauthn/server";
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { after } from "next/server";
import { z } from "zod";
import { config } from "@/config";
import { safePath } from "@/core/address/safe-path";
import { attempts } from "@/data/file/control-tables";
import { control } from "@/data/file/open";
import { noteStaff } from "@/data/installation/staff-log";
import { beginNewPasskey, beginPasskey, keepNewPasskey, partyOf, removePasskey } from "@/identity/doors/passkey";
import { beginLimits, countTry, limitsOf, waitFor } from "@/identity/limits/limits";
import { isFreshStaff, officePasskey, officeShelf, officeSignOut } from "@/identity/office/sessions";
import { officeAddress } from "@/identity/requests/addresses";
import { clearOfficeCookie, fromHere, setOfficeCookie } from "@/identity/requests/cookies";
import { sameOrigin } from "@/identity/requests/request";
import { word } from "@/identity/requests/takes";
import { staffCall } from "@/office/action";
import { STALE } from "@/office/fresh";
import { mailOf } from "@/services/mail";
import { forgottenStaff } from "@/staff/staff";
import { type FormState, failed, succeeded } from "@/ui/forms/form";

const party = () => partyOf(officeAddress());

/** What a browser needs to ask for a passkey; null where another site asks, or too many have asked. */
export async function askOfficePasskey(): Promise<PublicKeyCredentialRequestOptionsJSON | null> {
  if (!(await sameOrigin())) return null;
  const now = Date.now();
  const limits = beginLimits(await fromHere("office", "", ""));
  const { orm } = control();
  if (waitFor(orm, limits, now, attempts) > 0) return null;
  countTry(orm, limits, now, attempts);
  return beginPasskey(officeShelf(), party(), now);
}

/** Lets somebody in by a passkey: where they go, or a sentence why not. */
export async function comeByOfficePasskey(response: AuthenticationResponseJSON, to: string): Promise<{ to: string } | { problem: string }> {
  if (!(await sameOrigin())) return { problem: "Sign in from the back office's own page." };
  const token = await officePasskey(response, party(), Date.now());
  if (!token) return { problem: "This passkey opens nothing here." };
  const replaced = await clearOfficeCookie();
  if (replaced) officeSignOut(replaced);
  await setOfficeCookie(token);
  revalidatePath("/", "layout");
  const path = safePath(String(to).slice(0, 2_000));
  return { to: /^\/(?:portals\/|-\/)/.test(path) ? path : "/" };
}

type Asked<T> = { ok: true; value: T } | { ok: false; message: string };

export const askNewOfficePasskey = staffCall(
  "overview",
  [],
  async ({ staff, session, owner }): Promise<Asked<PublicKeyCredentialCreationOptionsJSON>> => {
    if (!isFreshStaff(session, owner.now)) return { ok: false, message: STALE };
    const options = await beginNewPasskey(officeShelf(), staff, party(), "Elkhorn", owner.now);
    return options ? { ok: true, value: options } : { ok: false, message: "You have very many already. Take one away first." };
  },
);

export const keepOfficePasskey = staffCall(
  "overview",
  [z.custom<RegistrationResponseJSON>(), word],
  async ({ staff, session, owner }, response, name): Promise<Asked<null>> => {
    if (!isFreshStaff(session, owner.now)) return { ok: false, message: STALE };
    const kept = await keepNewPasskey(officeShelf(), staff.id, response, String(name), party(), owner.now);
    if (!kept) return { ok: false, message: "Your device did not finish it." };
    noteStaff(staff.id, "passkey-made", owner.now);
    revalidatePath("/-/you");
    return { ok: true, value: null };
  },
);

/** Without a fresh sign-in nothing is removed, and the page says why. */
export const dropOfficePasskey = staffCall("overview", [word], async ({ staff, session, owner }, id): Promise<void> => {
  if (!isFreshStaff(session, owner.now)) redirect("/-/you?again=1");
  if (removePasskey(officeShelf(), staff.id, String(id).slice(0, 500))) noteStaff(staff.id, "passkey-removed", owner.now);
  revalidatePath("/-/you");
});

/** Answers every address alike, before it is looked up: the answer tells nobody who works here. */
export async function askForOfficeLink(before: FormState, data: FormData): Promise<FormState> {
  if (!(await sameOrigin())) return failed(before, data, {}, "Ask from the back office's own page.");
  const email = String(data.get("email") ?? "")
    .trim()
    .slice(0, 300);
  if (!email) return failed(before, data, { email: "Write your e-mail address." });
  const now = Date.now();
  const limits = limitsOf(`link ${email.toLowerCase()}`, await fromHere("office", "", email));
  const { orm } = control();
  const wait = waitFor(orm, limits, now, attempts) > 0;
  if (!wait) {
    countTry(orm, limits, now, attempts);
    after(() => sendLink(email, now));
  }
  return succeeded(before, `If somebody works here with ${email}, a link is on its way to it. It works once, for half an hour.`);
}

async function sendLink(email: string, now: number): Promise<void> {
  const who = forgottenStaff(email, now);
  if (!who) return;
  const link = `${officeAddress()}/-/staff/${who.token}`;
  const text = `Hello ${who.name.split(" ")[0]},\n\nsomebody, most likely you, asked for a way to choose a new password for the back office at ${officeAddress()}. This works once, and for half an hour:\n${link}\n\nIf it was not you, nothing has happened: leave it unopened.\n`;
  const sent = await mailOf(config()).send({ to: who.email, subject: "A new password for the back office", text }, `staff-link-${now}`);
  // Whoever asked is told the same in any case; the operator reads it in the log.
  if (!sent.ok) throw new Error(`A link for a member of staff could not be sent: ${sent.error.message}`);
}
