/** Doors: six digits that came by mail or by SMS. */
import { err, ok } from "@/core/result";
import { countTry, forgetTries, limitsOf, waitFor } from "../limits/limits";
import { accountOf } from "../passwords/passwords";
import { redeemCode } from "../secrets/codes";
import type { Door } from "./contract";
import { whoIsMeant } from "./who";

type Given = { readonly email: string; readonly code: string };

const by = (id: "mail-code" | "sms-code", name: string, about: string): Door<Given> => ({
  id,
  name,
  about,
  twofold: false,
  async prove(file, { email, code }, from, now) {
    const limits = limitsOf(`code ${accountOf(email)}`, from);
    const wait = waitFor(file.orm, limits, now);
    if (wait > 0) return err({ code: "too-many", seconds: Math.ceil(wait / 1000) });
    countTry(file.orm, limits, now);
    const personId = whoIsMeant(file, email);
    // Nobody's is looked up as somebody's is, and found as wrong.
    if (!redeemCode(file, personId ?? "nobody", id, code, now) || !personId) return err({ code: "wrong" });
    forgetTries(file.orm, limits);
    return ok({ personId });
  },
});

export const mailCodeDoor = by("mail-code", "Code by mail", "Six digits, good for five minutes and five tries.");
export const smsCodeDoor = by("sms-code", "Code by SMS", "The same, to the telephone number that People has of them.");
