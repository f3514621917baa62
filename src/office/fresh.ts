/** What is worth most to whoever finds a browser left open asks that its person signed in within the last quarter of an hour. */
import { rehearsalIn } from "@/data/file/clock";
import { isFreshStaff } from "@/identity/office/sessions";
import type { OfficePortal } from "@/identity/requests/office-gate";

export const STALE = "For safety, this needs a sign-in from the last 15 minutes. Sign out, sign in again, and repeat it.";

/** Null where it may go on. In a rehearsal nobody is real. */
export const staleSignIn = (p: Pick<OfficePortal, "file" | "session">): string | null =>
  rehearsalIn(p.file) || isFreshStaff(p.session, Date.now()) ? null : STALE;
