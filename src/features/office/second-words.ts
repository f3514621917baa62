import { config } from "@/config";
import { noteStaff } from "@/data/installation/staff-log";
import type { Guessed, SecondRefused } from "@/identity/factors/try-second";
import { officeAddress } from "@/identity/requests/addresses";
import { mailOf } from "@/services/mail";

/** What is said in the back office of a code that was not taken. */
export function secondWords(e: SecondRefused): string {
  switch (e.code) {
    case "too-many":
      return `Too many attempts. Try again in ${e.seconds} seconds.`;
    case "stopped":
      return "Too many wrong codes. Choose “Forgot your password?” on the sign-in page: the link that we e-mail you lets you try again.";
    case "wrong":
      return "This code is not right, or it was used already. Wait for the next one.";
  }
}

const GUESSED: Record<Guessed, string> = {
  guessed: "Somebody who knows your password has entered ten wrong codes of your second factor.",
  stopped:
    "Somebody who knows your password has entered twenty wrong codes of your second factor. No more codes are taken until you choose a new password.",
};

/** Told to the member of staff by mail, and in the log of staff: it may be somebody else, who has the password. */
export async function tellStaffOfGuesses(
  staff: { readonly id: string; readonly name: string; readonly email: string },
  what: Guessed,
): Promise<void> {
  const now = Date.now();
  noteStaff(staff.id, what === "guessed" ? "second-factor-guessed" : "second-factor-stopped", now);
  const text = `Hello ${staff.name.split(" ")[0]},\n\n${GUESSED[what]}\n\nIf it was not you, choose a new password now: open ${officeAddress()}/-/forgotten and ask for a link.\n`;
  const sent = await mailOf(config()).send(
    { to: staff.email, subject: "Wrong codes at the back office", text },
    `staff-guessed-${staff.id}-${now}`,
  );
  if (!sent.ok) throw new Error(`A member of staff could not be told of wrong codes: ${sent.error.message}`);
}
