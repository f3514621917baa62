/** Whose a form is: it was opened as somebody, and is taken from nobody else. */
import type { PortalRequest } from "@/identity/request";
import { sayOf } from "./queries";

/** Who a form was opened as; it goes back with the form, so that what was written for one company is never stored for another. */
export const actingAs = (r: PortalRequest): string => r.viewer.membershipId ?? r.viewer.kind;

/** Why a form opened as somebody else, or before the session ended, is not taken. */
export function actingProblem(r: PortalRequest, openedAs: string): string | null {
  const now = actingAs(r);
  if (openedAs === now) return null;
  const say = sayOf(r);
  if (now === "visitor") return say("form.session-over");
  const company = r.viewer.company?.name;
  return company ? say("form.acts-for", { company }) : say("form.acts-for-another");
}
