/** Another e-mail address, confirmed at both ends: by a code that comes to the new one, and by one that comes to the present one. */
import { and, eq } from "drizzle-orm";
import { joinEmail } from "@/core/joining/joining";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "@/data/file/open";
import { links } from "@/data/file/portal-tables";
import { transact } from "@/data/file/transact";
import { write } from "@/data/messages/outbox";
import { personFacts, personIdByEmail, setEmail } from "@/data/people/people";
import { countTry, type From, forgetTries, limitsOf, waitFor } from "@/identity/limits/limits";
import { type CodePurpose, freshCode, spendCode, tryCode } from "@/identity/secrets/codes";
import { beginFlow, flowBody, takeFlow } from "@/identity/secrets/flows";
import { endOtherSessions, type Session } from "@/identity/sessions/sessions";
import { saidOf } from "./said";

type Problems = Partial<Record<"email" | "new" | "old" | "", string>>;

/** Does not tell whether another person has the address: then no code is sent to it, and the change cannot be finished. */
export function beginEmailChange(file: PortalFile, session: Session, given: string, from: From, now: number): Result<null, Problems> {
  const person = personFacts(file, session.personId);
  const email = joinEmail(given);
  if (!person || !email) return err({ email: "Write an e-mail address like dana@company.example, in plain letters." });
  if (email === person.email.toLowerCase()) return err({ email: "This is your address already." });
  const limits = limitsOf(`new email ${person.id}`, from);
  if (waitFor(file.orm, limits, now) > 0) return err({ email: "That was asked for several times just now. Wait a little." });
  countTry(file.orm, limits, now);
  return transact(file, () => {
    takeFlow(file, "new email", person.id, now);
    if (!beginFlow(file, "new email", person.id, { email }, now)) return err({ "": "Too much is under way at this moment. Try again." });
    const send = (occasion: "new-email" | "old-email", to: string): void => {
      const code = { id: occasion, version: freshCode(file, person.id, occasion, now) };
      write(file, {
        occasion,
        to: { personId: person.id, email: to },
        said: saidOf(file, person, now),
        link: null,
        code,
        by: person.id,
        now,
      });
    };
    send("old-email", person.email);
    if (!personIdByEmail(file, email)) send("new-email", email);
    return ok(null);
  });
}

/** The address that is being changed to, while codes for it are waited for. */
export const emailUnderWay = (file: PortalFile, personId: string, now: number): string | undefined =>
  flowBody<{ email: string }>(file, "new email", personId, now)?.email;

/** Both codes are needed; what is wrong is said by field. Ends other sessions and links, and the former address is told. */
export function finishEmailChange(
  file: PortalFile,
  session: Session,
  given: { readonly new: string; readonly old: string },
  from: From,
  now: number,
): Result<null, Problems> {
  const person = personFacts(file, session.personId);
  const email = emailUnderWay(file, session.personId, now);
  if (!person || !email) return err({ "": "Too much time has gone by. Begin again." });
  const limits = limitsOf(`new email code ${person.id}`, from);
  if (waitFor(file.orm, limits, now) > 0) return err({ "": "Too many tries. Wait a little." });
  countTry(file.orm, limits, now);
  const tried = (purpose: CodePurpose, code: string) => tryCode(file, person.id, purpose, code, now);
  const [fresh, former] = [tried("new-email", given.new), tried("old-email", given.old)];
  const wrong = "This code is not right, or it is over.";
  if (fresh === null || former === null)
    return err({ ...(fresh === null ? { new: wrong } : {}), ...(former === null ? { old: wrong } : {}) });
  forgetTries(file.orm, limits);
  return transact(file, () => {
    if (!spendCode(file, person.id, "new-email", fresh, now) || !spendCode(file, person.id, "old-email", former, now))
      return err({ "": wrong });
    takeFlow(file, "new email", person.id, now);
    if (!setEmail(file, { kind: "person", id: person.id }, person.id, email, now)) return err({ "": "This address cannot be used here." });
    // What was sent to the former address opens nothing any more, and wherever else one is signed in is out.
    file.orm
      .delete(links)
      .where(and(eq(links.personId, person.id)))
      .run();
    endOtherSessions(file, person.id, session.hash);
    return ok(null);
  });
}
