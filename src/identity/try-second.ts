/** The one way to give a second factor, whatever for: every try counts, also of who has a session already and wants to turn it off. */
import { err, ok, type Result } from "@/core/result";
import { attempts } from "@/data/file/portal-tables";
import { countTry, type From, forgetTries, limitsOf, type TriesTable, waitFor } from "./limits";
import { proveSecond, type Shelf } from "./second";

export type SecondRefused = { readonly code: "wrong" } | { readonly code: "too-many"; readonly seconds: number };

export function trySecond(
  shelf: Shelf,
  personId: string,
  given: string,
  from: From,
  now: number,
  tries: TriesTable = attempts,
): Result<null, SecondRefused> {
  const limits = limitsOf(`second ${personId}`, from);
  const wait = waitFor(shelf.orm, limits, now, tries);
  if (wait > 0) return err({ code: "too-many", seconds: Math.ceil(wait / 1000) });
  countTry(shelf.orm, limits, now, tries);
  if (!proveSecond(shelf, personId, given, now)) return err({ code: "wrong" });
  forgetTries(shelf.orm, limits, tries);
  return ok(null);
}
