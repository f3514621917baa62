/** Staff change their own password: the present one is asked for, and every session ends but the one that takes its place. */
import { eq } from "drizzle-orm";
import { err, ok, type Result } from "@/core/result";
import { attempts, staff, staffSessions } from "@/data/file/control-tables";
import { control } from "@/data/file/open";
import { noteStaff } from "@/data/installation/staff-log";
import { countTry, type From, forgetTries, limitsOf, waitFor } from "../limits/limits";
import { BUSY_SECONDS, hashPassword, passwordProblem, whetherMatches } from "../passwords/passwords";
import { beginStaffSession, type Staff } from "./sessions";

/** A new session's token, since all others end; or what is wrong with either password. */
export async function changeOwnPassword(
  who: Staff,
  given: { readonly present: string; readonly password: string },
  from: From,
  now: number,
): Promise<Result<{ token: string }, { present?: string; password?: string }>> {
  const { orm } = control();
  const limits = limitsOf(`present ${who.id}`, from);
  const wait = waitFor(orm, limits, now, attempts);
  if (wait > 0) return err({ present: `Too many tries. Wait ${Math.ceil(wait / 1000)} seconds, then try again.` });
  countTry(orm, limits, now, attempts);
  const row = orm.select({ hash: staff.hash }).from(staff).where(eq(staff.id, who.id)).get();
  const good = await whetherMatches(row?.hash, given.present);
  if (good === "too-many") return err({ present: `Elkhorn is busy. Wait ${BUSY_SECONDS} seconds, then try again.` });
  if (!good) return err({ present: "This is not your present password." });
  forgetTries(orm, limits, attempts);
  const problem = passwordProblem(given.password, [who.name, who.email]);
  if (problem) return err({ password: problem });
  if (given.password === given.present) return err({ password: "Choose one that differs from the present one." });
  const hash = await hashPassword(given.password);
  orm.transaction((tx) => {
    tx.update(staff).set({ hash }).where(eq(staff.id, who.id)).run();
    tx.delete(staffSessions).where(eq(staffSessions.staffId, who.id)).run();
    noteStaff(who.id, "password-changed", now);
  });
  return ok({ token: beginStaffSession(who.id, now) });
}
