/** Some acts ask for a sign-in from the last 15 minutes: those that a stranger would want at a browser that was left open. */
import { rehearsalIn } from "@/data/file/clock";
import { isFreshStaff } from "@/identity/office/sessions";
import type { OfficePortal } from "@/identity/requests/office-gate";

export const STALE = "For safety, this needs a sign-in from the last 15 minutes. Sign out, sign in again, and repeat it.";

/** Null where it may go on. In a rehearsal nobody is real. */
export const staleSignIn = (p: Pick<OfficePortal, "file" | "session">): string | null =>
  rehearsalIn(p.file) || isFreshStaff(p.session, Date.now()) ? null : STALE;
