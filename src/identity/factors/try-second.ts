/**
 * The one way to give a second factor, whatever for: every try counts, also of who has a session already and wants to turn it off. Whoever is
 * asked for it knows the password, so wrong codes are counted for the person wherever they come from: after ten the person is told, after
 * twenty no code is taken before they have come in by their mail.
 */
import { eq, sql } from "drizzle-orm";
import { err, ok, type Result } from "@/core/result";
import { attempts, secondTries } from "@/data/file/portal-tables";
import { countTry, type From, forgetTries, limitsOf, type TriesTable, waitFor } from "../limits/limits";
import type { Shelf } from "../secrets/shelf";
import { proveSecond } from "./second";

export type SecondRefused =
  | { readonly code: "wrong" }
  | { readonly code: "too-many"; readonly seconds: number }
  /** No code is taken before the person has come in by their mail. */
  | { readonly code: "stopped" };

const TOLD_AFTER = 10;
/** NIST SP 800-63B-4 section 3.2.2 allows no more than 100 in a row. A code is right by chance once in 333,333 tries (three steps of time). */
const STOPPED_AFTER = 20;

/** The tenth wrong code in a row, and the last that is taken. */
export type Guessed = "guessed" | "stopped";

interface Asked {
  readonly from: From;
  readonly now: number;
  /** Tells the person that somebody who knows their password is guessing; called once, at the tenth wrong code, and once at the last. */
  readonly tell: (what: Guessed) => void;
  readonly tries?: TriesTable;
}

/** Tries a code of an authenticator or a recovery code; each is good once. */
export function trySecond(
  shelf: Shelf,
  personId: string,
  given: string,
  { from, now, tell, tries = attempts }: Asked,
): Result<null, SecondRefused> {
  if (failuresOf(shelf, personId) >= STOPPED_AFTER) return err({ code: "stopped" });
  const limits = limitsOf(`second ${personId}`, from);
  const wait = waitFor(shelf.orm, limits, now, tries);
  if (wait > 0) return err({ code: "too-many", seconds: Math.ceil(wait / 1000) });
  countTry(shelf.orm, limits, now, tries);
  // Counted before it is looked at, so that tries made at the same moment all count.
  const failures = countFailure(shelf, personId, now);
  if (!proveSecond(shelf, personId, given, now)) {
    if (failures === TOLD_AFTER) tell("guessed");
    if (failures === STOPPED_AFTER) tell("stopped");
    return err({ code: failures >= STOPPED_AFTER ? "stopped" : "wrong" });
  }
  forgetTries(shelf.orm, limits, tries);
  liftStop(shelf, personId);
  return ok(null);
}

function failuresOf(shelf: Shelf, personId: string): number {
  return shelf.orm.select({ n: secondTries.failures }).from(secondTries).where(eq(secondTries.personId, personId)).get()?.n ?? 0;
}

function countFailure(shelf: Shelf, personId: string, now: number): number {
  const row = { personId, failures: 1, at: now };
  const more = { failures: sql`${secondTries.failures} + 1`, at: now };
  return shelf.orm.insert(secondTries).values(row).onConflictDoUpdate({ target: secondTries.personId, set: more }).returning().get()
    .failures;
}

/** Their mail is theirs: codes are taken again. */
export const liftStop = (shelf: Shelf, personId: string): void =>
  void shelf.orm.delete(secondTries).where(eq(secondTries.personId, personId)).run();
