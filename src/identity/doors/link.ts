/** Door: a link that came by mail, or that somebody of the agency handed over. */
import { err, ok } from "@/core/result";
import { countTry, forgetTries, limitsOf, waitFor } from "../limits/limits";
import { elsewhereCode, lookAtLink, redeemLink } from "../secrets/links";
import type { Door } from "./contract";

export interface LinkGiven {
  readonly token: string;
  /** The hash of what the browser holds that opens it. */
  readonly browser?: string | null;
  /** Where that is another than the one that asked: the code that is shown there. */
  readonly code?: string;
}

export const linkDoor: Door<LinkGiven> = {
  id: "link",
  name: "Link by mail",
  about: "Asked for on the sign-in page. It works once, for half an hour.",
  twofold: false,
  async prove(file, { token, browser = null, code = "" }, from, now) {
    const seen = lookAtLink(file, token, now);
    if (seen.state === "good" && seen.asked !== null && seen.asked !== browser) {
      const limits = limitsOf(`link elsewhere ${seen.personId}`, from);
      const wait = waitFor(file.orm, limits, now);
      if (wait > 0) return err({ code: "too-many", seconds: Math.ceil(wait / 1000) });
      countTry(file.orm, limits, now);
      if (code.replace(/\D/g, "") !== elsewhereCode(file, seen.asked)) return err({ code: "wrong" });
      forgetTries(file.orm, limits);
    }
    const link = redeemLink(file, token, now);
    return link.state === "good"
      ? ok({ personId: link.personId, invited: link.purpose === "invitation" })
      : err({ code: "link", state: link.state });
  },
};
