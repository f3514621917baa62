/** The first account of an installation: made with a code that the server printed, so that no stranger can. */
import { randomInt, timingSafeEqual } from "node:crypto";
import { err, ok, type Result } from "@/core/result";
import { fold } from "@/core/text/fold";
import { attempts, staff } from "@/data/file/control-tables";
import { newId } from "@/data/file/ids";
import { control } from "@/data/file/open";
import { once } from "@/data/file/per-process";
import { countTry, type From, forgetTries, limitOn, waitFor } from "../limits/limits";
import { hashPassword, passwordProblem } from "../passwords/passwords";
import { officeSignIn } from "./sessions";

/** Whether nobody has set this installation up yet. */
export const needsOwner = (): boolean => control().orm.select({ id: staff.id }).from(staff).limit(1).get() === undefined;

/** No 0, O, 1, I or L: it is read off a screen and typed. Ten of these are 49 bits. */
const SIGNS = "23456789ABCDEFGHJKMNPQRSTUVWXYZ";
/** A new one for each start; held in memory alone. */
export const setupCode = (): string =>
  once("setup code", () => {
    const signs = Array.from({ length: 10 }, () => SIGNS[randomInt(SIGNS.length)]).join("");
    return `${signs.slice(0, 5)}-${signs.slice(5)}`;
  });

const plain = (code: string): string => code.toUpperCase().replaceAll(/[^0-9A-Z]/g, "");
function codeMatches(given: string): boolean {
  const [wanted, found] = [Buffer.from(plain(setupCode())), Buffer.from(plain(given))];
  return wanted.length === found.length && timingSafeEqual(wanted, found);
}

export interface NewOwner {
  readonly code: string;
  readonly name: string;
  readonly email: string;
  readonly password: string;
}
export interface SetupError {
  readonly field: "code" | "password" | null;
  readonly message: string;
}

const EVERYBODY = limitOn("setup");

/** Makes the owner and signs them in. Only the first is made, however many ask at once. */
export async function makeOwner(o: NewOwner, from: From, now: number): Promise<Result<{ token: string }, SetupError>> {
  const { orm, db } = control();
  if (!needsOwner()) return err({ field: null, message: "There is an owner already. Sign in instead." });
  const wait = waitFor(orm, EVERYBODY, now, attempts);
  if (wait > 0) return err({ field: "code", message: `Too many tries. Wait ${Math.ceil(wait / 1000)} seconds, then try again.` });
  countTry(orm, EVERYBODY, now, attempts);
  if (!codeMatches(o.code)) return err({ field: "code", message: "This is not the code that the server printed when it started." });
  const problem = passwordProblem(o.password, [o.name, o.email]);
  if (problem) return err({ field: "password", message: problem });
  const hash = await hashPassword(o.password);
  const made = db
    .prepare("INSERT INTO staff (id, name, email, hash, created_at) SELECT ?, ?, ?, ?, ? WHERE NOT EXISTS (SELECT 1 FROM staff)")
    .run(newId(), o.name, fold(o.email), hash, new Date(now).toISOString());
  if (made.changes === 0) return err({ field: null, message: "There is an owner already. Sign in instead." });
  forgetTries(orm, EVERYBODY, attempts);
  const done = await officeSignIn(o.email, o.password, from, now);
  return done.ok ? ok(done.value) : err({ field: null, message: "The account is made. Sign in with it." });
}
