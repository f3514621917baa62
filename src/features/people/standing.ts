"use server";
/** Standing links of people, where the owner has opened that door. */
import { revalidatePath } from "next/cache";
import { actorOf } from "@/core/events/event";
import type { EventKind } from "@/core/events/kinds";
import { record } from "@/data/events/record";
import { personFacts } from "@/data/people/people";
import { doorSettings } from "@/identity/doors/settings";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { word } from "@/identity/requests/takes";
import { makeLink, takeStandingBack } from "@/identity/secrets/links";
import { officeAction, officeCall } from "@/office/action";
import { whyNotInvited } from "./inviting-one";
import { noteWayMade, whyNoWay } from "./way-in";

const noted = (p: OfficePortal, personId: string, kind: EventKind): void =>
  void record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind, table: "t_people", record: personId });

export const makeStanding = officeAction(
  "people",
  [word],
  async (p, personId): Promise<{ ok: true; link: string } | { ok: false; message: string }> => {
    const person = personFacts(p.file, personId);
    if (!person) return { ok: false, message: "This person is gone." };
    if (!doorSettings(p.file).open.includes("standing"))
      return { ok: false, message: "Open the door for standing links first, under Doors." };
    const why = whyNotInvited(p.file, personId);
    if (why && why !== "has no e-mail address") return { ok: false, message: `${person.name} ${why}.` };
    const not = whyNoWay(p, personId);
    if (not) return { ok: false, message: not };
    noteWayMade(p, personId, "a standing link");
    const link = `${portalAddress(p.slug)}/link/${makeLink(p.file, personId, "standing", p.now)}`;
    noted(p, personId, "standing-link-made");
    revalidatePath(p.at, "layout");
    return { ok: true, link };
  },
);

export const takeStanding = officeCall("people", [word], async (p, personId): Promise<void> => {
  if (takeStandingBack(p.file, personId)) noted(p, personId, "standing-link-taken-back");
  revalidatePath(p.at, "layout");
});
