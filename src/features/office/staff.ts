"use server";
/** Who works here, and oneself. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { after } from "next/server";
import { config } from "@/config";
import { attempts } from "@/data/file/control-tables";
import { noteStaff } from "@/data/installation/staff-log";
import { beginTotp, confirmTotp, removeSecond, secondState } from "@/identity/factors/second";
import type { Guessed } from "@/identity/factors/try-second";
import { trySecond } from "@/identity/factors/try-second";
import { changeOwnPassword } from "@/identity/office/password";
import { endStaffSessions, isFreshStaff, officeShelf } from "@/identity/office/sessions";
import { officeAddress } from "@/identity/requests/addresses";
import { clearOfficeCookie, fromHere, setOfficeCookie } from "@/identity/requests/cookies";
import { requestOfficeWrite, sameOrigin } from "@/identity/requests/request";
import { STALE } from "@/office/fresh";
import { mailOf } from "@/services/mail";
import { acceptStaff, changeStaff, inviteStaff, takeStaffSecond, withdrawStaff } from "@/staff/staff";
import { type FormState, failed, succeeded } from "@/ui/forms/form";
import { modulesOf } from "@/ui/signing-in/qr";
import { secondWords, tellStaffOfGuesses } from "./second-words";

export type InvitedStaff = FormState & { readonly link?: string };

const SECOND_IS_ON = "A second factor is on already. Load the page again.";

const text = (data: FormData, name: string, most = 300): string => String(data.get(name) ?? "").slice(0, most);

/** The link goes by mail, and is shown this once, where mail cannot be sent or is slow. */
export async function inviteStaffForm(before: InvitedStaff, data: FormData): Promise<InvitedStaff> {
  const { owner, staff, session } = await requestOfficeWrite("staff");
  if (!isFreshStaff(session, owner.now)) return failed(before, data, {}, STALE);
  const given = { name: text(data, "name"), email: text(data, "email"), role: text(data, "role") };
  const done = inviteStaff(owner, given);
  if (!done.ok)
    return done.error.field
      ? failed(before, data, { [done.error.field]: done.error.message })
      : failed(before, data, {}, done.error.message);
  const link = `${officeAddress()}/-/staff/${done.value.token}`;
  const words = `Hello ${given.name.split(" ")[0]},\n\n${staff.name} asks you into the back office at ${officeAddress()}.\n\nThis link is yours alone. It works once, and for 7 days:\n${link}\n`;
  const sent = await mailOf(config()).send(
    { to: given.email.trim(), subject: "The back office is open to you", text: words },
    `staff-${done.value.id}-${owner.now}`,
  );
  revalidatePath("/-/staff");
  const told = sent.ok
    ? `A link is on its way to ${given.email}. It is shown here this once, too:`
    : `${sent.error.message} Hand this link over yourself; it is shown this once:`;
  return { ...succeeded(before, told), link };
}

export async function changeStaffForm(id: string, before: FormState, data: FormData): Promise<FormState> {
  const { owner, session } = await requestOfficeWrite("staff");
  if (!isFreshStaff(session, owner.now)) return failed(before, data, {}, STALE);
  const act = text(data, "act");
  if (act === "withdraw") withdrawStaff(owner, id);
  else if (act === "second") takeStaffSecond(owner, id);
  else {
    const problem = changeStaff(owner, id, act === "active" || act === "inactive" ? { status: act } : { role: text(data, "role") });
    if (problem) return failed(before, data, {}, problem);
  }
  revalidatePath("/-/staff");
  return succeeded(before, "Kept.");
}

export async function acceptStaffForm(before: FormState, data: FormData): Promise<FormState> {
  if (!(await sameOrigin())) return failed(before, data, {}, "Open the link itself, and choose the password there.");
  const done = await acceptStaff(text(data, "token"), text(data, "password", 1_000), Date.now());
  if (!done.ok) return failed(before, data, { password: done.error });
  await clearOfficeCookie();
  await setOfficeCookie(done.value.token);
  redirect(done.value.step === "in" ? "/" : "/-/second?to=%2F");
}

export async function ownPasswordForm(before: FormState, data: FormData): Promise<FormState> {
  const { staff } = await requestOfficeWrite("overview");
  const from = await fromHere("office", "", staff.email);
  const done = await changeOwnPassword(
    staff,
    { present: text(data, "present", 1_000), password: text(data, "password", 1_000) },
    from,
    Date.now(),
  );
  if (!done.ok) return failed(before, data, done.error);
  await setOfficeCookie(done.value.token);
  return succeeded(before, "It is changed. Every other place where you were signed in is signed out.");
}

/** One of one's own sessions, or all others. */
export async function endOwnSessions(which: string): Promise<void> {
  const { staff, session, owner } = await requestOfficeWrite("overview");
  endStaffSessions(staff.id, String(which).slice(0, 100), session, owner.now);
  revalidatePath("/-/you");
}

type Begun = { id: string; secret: string; uri: string; path: string; size: number };

export async function beginOfficeSecond(): Promise<{ ok: true; value: Begun } | { ok: false; message: string }> {
  const { staff, owner, session } = await requestOfficeWrite("overview");
  if (!isFreshStaff(session, owner.now)) return { ok: false, message: STALE };
  if (secondState(officeShelf(), staff.id).since !== null) return { ok: false, message: SECOND_IS_ON };
  const begun = beginTotp(officeShelf(), staff.id, { account: staff.email, issuer: "Elkhorn" }, owner.now);
  return { ok: true, value: { ...begun, ...modulesOf(begun.uri) } };
}

export async function confirmOfficeSecond(
  id: string,
  code: string,
): Promise<{ ok: true; codes: string[] } | { ok: false; message: string }> {
  const { staff, session, owner } = await requestOfficeWrite("overview");
  if (!isFreshStaff(session, owner.now)) return { ok: false, message: STALE };
  const codes = confirmTotp(officeShelf(), staff.id, String(id).slice(0, 60), String(code).slice(0, 20), Date.now());
  if (codes) noteStaff(staff.id, "turned a second factor on", Date.now());
  return codes ? { ok: true, codes } : { ok: false, message: "This code is not right, or it was used already. Wait for the next one." };
}

export async function endOfficeSecond(before: FormState, data: FormData): Promise<FormState> {
  const { staff } = await requestOfficeWrite("overview");
  const now = Date.now();
  const tell = (what: Guessed): void => after(() => tellStaffOfGuesses(staff, what));
  const from = await fromHere("office", "", staff.email);
  const tried = trySecond(officeShelf(), staff.id, text(data, "code"), { from, now, tell, tries: attempts });
  if (!tried.ok) return failed(before, data, { code: secondWords(tried.error) });
  removeSecond(officeShelf(), staff.id);
  noteStaff(staff.id, "turned their second factor off", Date.now());
  revalidatePath("/-/you");
  return succeeded(before, "The second factor is off.");
}
