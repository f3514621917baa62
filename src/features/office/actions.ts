"use server";
import { redirect } from "next/navigation";
import { after } from "next/server";
import { z } from "zod";
import { safePath } from "@/core/address/safe-path";
import { createPortal } from "@/data/installation/portals";
import type { Guessed } from "@/identity/factors/try-second";
import { officeSecond, officeSession, officeSignIn, officeSignOut } from "@/identity/office/sessions";
import { clearOfficeCookie, fromHere, officeToken, rememberDevice, setOfficeCookie } from "@/identity/requests/cookies";
import { sameOrigin } from "@/identity/requests/request";
import { staffForm } from "@/office/action";
import { type FormState, failed } from "@/ui/forms/form";
import { secondWords, tellStaffOfGuesses } from "./second-words";

const credentials = z.object({
  email: z.string().trim().min(1, "Write your e-mail address.").max(300, "That is too long."),
  password: z.string().min(1, "Write your password.").max(1000, "That is too long."),
});

/** Signs somebody in to the back office by password, or asks for the second factor. */
export async function signInToOffice(before: FormState, data: FormData): Promise<FormState> {
  if (!(await sameOrigin())) return failed(before, data, {}, "Sign in from the back office's own page.");
  const parsed = credentials.safeParse(Object.fromEntries(data));
  if (!parsed.success) return failed(before, data, Object.fromEntries(parsed.error.issues.map((i) => [String(i.path[0]), i.message])));
  const { email, password } = parsed.data;
  const done = await officeSignIn(email, password, await fromHere("office", "", email), Date.now());
  if (!done.ok)
    return failed(
      before,
      data,
      {},
      done.error.code === "too-many"
        ? `Too many tries. Wait ${done.error.seconds} seconds, then try again.`
        : "That e-mail address and password do not go together.",
    );
  const replaced = await clearOfficeCookie();
  if (replaced) officeSignOut(replaced);
  await setOfficeCookie(done.value.token);
  // A device is known once everything was shown that is asked for.
  if (done.value.step === "in") await rememberDevice("office", "", email);
  const to = toOf(data);
  redirect(done.value.step === "in" ? to : `/-/second?to=${encodeURIComponent(to)}`);
}

function toOf(data: FormData): string {
  const to = safePath(String(data.get("to") ?? "").slice(0, 2_000));
  return /^\/(?:portals\/|-\/(?:you|staff)(?:[/?]|$))/.test(to) ? to : "/";
}

/** Takes the second factor of somebody who gave their password just before. */
export async function giveOfficeSecond(before: FormState, data: FormData): Promise<FormState> {
  if (!(await sameOrigin())) return failed(before, data, {}, "Sign in from the back office's own page.");
  const code = String(data.get("code") ?? "").slice(0, 100);
  const half = officeSession(await officeToken(), Date.now(), "second");
  const email = half?.staff.email ?? "";
  const tell = (what: Guessed): void => {
    if (half) after(() => tellStaffOfGuesses(half.staff, what));
  };
  const done = officeSecond(await officeToken(), code, { from: await fromHere("office", "", email), now: Date.now(), tell });
  if (!done.ok) return failed(before, data, { code: secondWords(done.error) });
  await setOfficeCookie(done.value.token);
  await rememberDevice("office", "", email);
  redirect(toOf(data));
}

/** Where the session has ended already, too: whoever presses it wants to be out. */
export async function signOutOfOffice(): Promise<void> {
  if (await sameOrigin()) {
    const token = await clearOfficeCookie();
    if (token) officeSignOut(token);
  }
  redirect("/sign-in");
}

const newPortal = z.object({
  name: z.string().trim().min(1, "Give the portal a name.").max(80, "Keep the name under 80 characters."),
  slug: z
    .string()
    .trim()
    .toLowerCase()
    .regex(/^[a-z0-9](?:[a-z0-9-]{0,40}[a-z0-9])?$/, "Use small letters, digits and hyphens, up to 42."),
});

export const makePortal = staffForm("build", [], ({ staff, owner }, form) => {
  const read = form.read(newPortal);
  if (!read.ok) return read.answer;
  const { slug, name } = read.value;
  const made = createPortal(slug, name, {
    actor: { kind: "staff", id: staff.id },
    name: staff.name,
    at: owner.now,
  });
  if ("problem" in made) return form.failed({ slug: made.problem });
  redirect(`/portals/${slug}/data`);
});
