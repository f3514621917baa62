/**
 * Door: a link that stays, for who is to come in without anything else, such as a screen on a wall. It opens nothing that would outlast it:
 * who came by it chooses no password and makes no other way in. Each time it is shown is noted, where a role keeps this door shut too.
 */
import { err, ok } from "@/core/result";
import { record } from "@/data/events/record";
import { redeemStanding } from "../secrets/links";
import type { Door } from "./contract";

export const USED_STANDING = "standing-link-used";

export const standingDoor: Door<{ readonly token: string }> = {
  id: "standing",
  name: "Standing link",
  about: "Made for one person, on their page. It works again and again for a year, until it is taken back.",
  twofold: false,
  async prove(file, { token }, _, now) {
    const link = redeemStanding(file, token, now);
    if (link.state !== "good") return err({ code: "link", state: link.state });
    const { personId } = link;
    record(file, {
      actor: { kind: "person", id: personId },
      via: "page",
      at: now,
      kind: USED_STANDING,
      table: "t_people",
      record: personId,
    });
    return ok({ personId });
  },
};
