/** Door: a link that came by mail, or that somebody of the agency handed over. */
import { err, ok } from "@/core/result";
import { redeemLink } from "../links";
import type { Door } from "./contract";

export const linkDoor: Door<{ readonly token: string }> = {
  id: "link",
  name: "Link by mail",
  about: "Asked for on the sign-in page. It works once, for half an hour.",
  twofold: false,
  async prove(file, { token }, _, now) {
    const link = redeemLink(file, token, now);
    return link.state === "good"
      ? ok({ personId: link.personId, invited: link.purpose === "invitation" })
      : err({ code: "link", state: link.state });
  },
};
