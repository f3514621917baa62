/** How somebody's last invitation stands, in words. */
import { formatMoment } from "@/core/text/format";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { invitationState } from "@/identity/secrets/links";

export interface InvitationWords {
  readonly words: string;
  readonly open: boolean;
  readonly withdrawn: boolean;
}

/** Null where they were never invited by a link. */
export function invitationWords(p: OfficePortal, personId: string): InvitationWords | null {
  const found = invitationState(p.file, personId, p.now);
  if (!found) return null;
  const { locale, timeZone } = p.live.definition.portal;
  const when = (at: number): string => formatMoment(new Date(at).toISOString(), locale, timeZone);
  const { state, at, openedAt } = found;
  const looked = openedAt === null ? "" : ` Its page was first looked at ${when(openedAt)}.`;
  const words = {
    open: `Invited by a link that works until ${when(at)}.${looked}`,
    used: `The link was used ${when(at)}.`,
    over: `The link was good until ${when(at)}, and was not used.${looked}`,
    withdrawn: "The invitation has been taken back.",
  }[state];
  return { words, open: state === "open", withdrawn: state === "withdrawn" };
}
