/** Door: e-mail address and password. */
import { eq } from "drizzle-orm";
import { err, ok } from "@/core/result";
import { credentials } from "@/data/file/portal-tables";
import { countTry, forgetTries, limitsOf, waitFor } from "../limits/limits";
import { accountOf, BUSY_SECONDS, whetherMatches } from "../passwords/passwords";
import type { Door } from "./contract";
import { whoIsMeant } from "./who";

/** Milliseconds, as long as an invitation. */
export const TEMPORARY_LASTS = 14 * 86_400_000;

export const passwordDoor: Door<{ readonly email: string; readonly password: string }> = {
  id: "password",
  name: "Password",
  about: "At least 15 characters, none that anybody would guess. Forgotten, it is replaced by a link that comes by mail.",
  twofold: false,
  async prove(file, { email, password }, from, now) {
    const limits = limitsOf(accountOf(email), from);
    const wait = waitFor(file.orm, limits, now);
    if (wait > 0) return err({ code: "too-many", seconds: Math.ceil(wait / 1000) });
    countTry(file.orm, limits, now);
    const personId = whoIsMeant(file, email);
    // Nobody's is looked up as somebody's is, so that the time does not tell.
    const credential = file.orm
      .select()
      .from(credentials)
      .where(eq(credentials.personId, personId ?? "nobody"))
      .get();
    const good = await whetherMatches(credential?.hash, password);
    if (good === "too-many") return err({ code: "too-many", seconds: BUSY_SECONDS });
    if (!good || !personId) return err({ code: "wrong" });
    // A temporary one is handed over to be replaced soon: after its last day it opens nothing.
    if (credential?.temporary && Date.parse(credential.changedAt) + TEMPORARY_LASTS < now) return err({ code: "temporary-over" });
    forgetTries(file.orm, limits);
    return ok({ personId, temporary: credential?.temporary === true });
  },
};
