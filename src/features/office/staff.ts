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
import { sameOrigin } from "@/identity/requests/request";
import { word } from "@/identity/requests/takes";
import { staffCall, staffForm } from "@/office/action";
import { STALE } from "@/office/fresh";
import { mailOf } from "@/services/mail";
import { acceptStaff, changeStaff, inviteStaff, takeStaffSecond, withdrawStaff } from "@/staff/staff";
import { type FormState, failed } from "@/ui/forms/form";
import { modulesOf } from "@/ui/signing-in/qr";
import { secondWords, tellStaffOfGuesses } from "./second-words";

export type InvitedStaff = FormState & { readonly link?: string };

const SECOND_IS_ON = "A second factor is on already. Load the page again.";

const text = (data: FormData, name: string, most = 300): string => String(data.get(name) ?? "").slice(0, most);

/** The link goes by mail, and is shown this once, where mail cannot be sent or is slow. */
export const inviteStaffForm = staffForm("staff", [], async ({ owner, staff, session }, form): Promise<InvitedStaff> => {
  if (!isFreshStaff(session, owner.now)) return form.failed({}, STALE);
  const given = { name: form.text("name"), email: form.text("email"), role: form.text("role") };
  const done = inviteStaff(owner, given);
  if (!done.ok) return done.error.field ? form.failed({ [done.error.field]: done.error.message }) : form.failed({}, done.error.message);
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
  return { ...form.succeeded(told), link };
});

export const changeStaffForm = staffForm("staff", [word], ({ owner, session }, form, id) => {
  if (!isFreshStaff(session, owner.now)) return form.failed({}, STALE);
  const act = form.text("act");
  if (act === "withdraw") withdrawStaff(owner, id);
  else if (act === "second") takeStaffSecond(owner, id);
  else {
    const problem = changeStaff(owner, id, act === "active" || act === "inactive" ? { status: act } : { role: form.text("role") });
    if (problem) return form.failed({}, problem);
  }
  revalidatePath("/-/staff");
  return form.succeeded("Kept.");
});

/** Lets somebody in who was asked to join the staff, with the password that they choose. */
export async function acceptStaffForm(before: FormState, data: FormData): Promise<FormState> {
  if (!(await sameOrigin())) return failed(before, data, {}, "Open the link itself, and choose the password there.");
  const done = await acceptStaff(text(data, "token"), text(data, "password", 1_000), Date.now());
  if (!done.ok) return failed(before, data, { password: done.error });
  await clearOfficeCookie();
  await setOfficeCookie(done.value.token);
  redirect(done.value.step === "in" ? "/" : "/-/second?to=%2F");
}

export const ownPasswordForm = staffForm("overview", [], async ({ staff }, form) => {
  const from = await fromHere("office", "", staff.email);
  const done = await changeOwnPassword(
    staff,
    { present: form.text("present", 1_000), password: form.text("password", 1_000) },
    from,
    Date.now(),
  );
  if (!done.ok) return form.failed(done.error);
  await setOfficeCookie(done.value.token);
  return form.succeeded("It is changed. Every other place where you were signed in is signed out.");
});

/** Ends one of one's own sessions, or all others. */
export const endOwnSessions = staffCall("overview", [word], async ({ staff, session, owner }, which): Promise<void> => {
  endStaffSessions(staff.id, String(which).slice(0, 100), session, owner.now);
  revalidatePath("/-/you");
});

type Begun = { id: string; secret: string; uri: string; path: string; size: number };

export const beginOfficeSecond = staffCall(
  "overview",
  [],
  async ({ staff, owner, session }): Promise<{ ok: true; value: Begun } | { ok: false; message: string }> => {
    if (!isFreshStaff(session, owner.now)) return { ok: false, message: STALE };
    if (secondState(officeShelf(), staff.id).since !== null) return { ok: false, message: SECOND_IS_ON };
    const begun = beginTotp(officeShelf(), staff.id, { account: staff.email, issuer: "Elkhorn" }, owner.now);
    return { ok: true, value: { ...begun, ...modulesOf(begun.uri) } };
  },
);

export const confirmOfficeSecond = staffCall(
  "overview",
  [word, word],
  async ({ staff, session, owner }, id, code): Promise<{ ok: true; codes: string[] } | { ok: false; message: string }> => {
    if (!isFreshStaff(session, owner.now)) return { ok: false, message: STALE };
    const codes = confirmTotp(officeShelf(), staff.id, String(id).slice(0, 60), String(code).slice(0, 20), Date.now());
    if (codes) noteStaff(staff.id, "second-factor-on", Date.now());
    return codes ? { ok: true, codes } : { ok: false, message: "This code is not right, or it was used already. Wait for the next one." };
  },
);

export const endOfficeSecond = staffForm("overview", [], async ({ staff }, form) => {
  const now = Date.now();
  const tell = (what: Guessed): void => after(() => tellStaffOfGuesses(staff, what));
  const from = await fromHere("office", "", staff.email);
  const tried = trySecond(officeShelf(), staff.id, form.text("code"), { from, now, tell, tries: attempts });
  if (!tried.ok) return form.failed({ code: secondWords(tried.error) });
  removeSecond(officeShelf(), staff.id);
  noteStaff(staff.id, "second-factor-off", Date.now());
  revalidatePath("/-/you");
  return form.succeeded("The second factor is off.");
});
