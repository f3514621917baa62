/** Whose a form is: it was opened as somebody, and is taken from nobody else. */
import type { PortalRequest } from "@/identity/request";

/** Who a form was opened as; it goes back with the form, so that what was written for one company is never stored for another. */
export const actingAs = (r: PortalRequest): string => r.viewer.membershipId ?? r.viewer.kind;

/** Why a form opened as somebody else, or before the session ended, is not taken. */
export function actingProblem(r: PortalRequest, openedAs: string): string | null {
  const now = actingAs(r);
  if (openedAs === now) return null;
  if (now === "visitor")
    return "You are no longer signed in here: your session or your place in the company has ended. What you wrote is kept; sign in in another window, then send it again.";
  const here = r.viewer.company?.name;
  return `You act ${here ? `for ${here}` : "for another company"} now, but this form was opened as somebody else. What you wrote is kept; change back, then send it again.`;
}
