/**
 * Signing in inside another site's frame (settled ahead, 23). The cookie of a session does not come there, and a tab that the frame opens is
 * cut off from it. So the frame begins with a code, a tab of the portal's own approves it for whoever is signed in there, and the frame, which
 * alone holds the secret, is given a session of its own.
 *
 * Whoever sends their own code to somebody else would be let in as them (RFC 8628, section 5.4): so the tab asks for a number that only
 * the frame shows, both must come from one place on the net, and three wrong numbers end it.
 */
import { randomInt } from "node:crypto";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "@/data/file/open";
import { beginFlow, changeFlow, flowBody, takeFlow } from "../secrets/flows";
import { newToken, tokenHash } from "../secrets/secrets";
import { type Session, startBeside } from "./sessions";

/** Milliseconds: a working day. A frame cannot be signed out of from one's own page as easily as it is left open. */
export const FRAMED_LASTS = 12 * 3_600_000;
const TRIES = 3;

interface Body {
  readonly secret: string;
  readonly number: string;
  readonly place: string;
  readonly wrong: number;
  /** The session that let it in. */
  readonly by?: string;
}

export interface Begun {
  /** For the tab's address. */
  readonly code: string;
  /** For the frame alone. */
  readonly secret: string;
  /** Shown in the frame, typed in the tab. */
  readonly number: string;
}

/** An IPv6 network of 64 bits is one place, since devices change the rest of it (RFC 8981). */
const placeOf = (address: string): string => (address.includes(":") ? address.split(":").slice(0, 4).join(":") : address);

/** Null where too much is under way. */
export function beginInFrame(file: PortalFile, from: string, now: number): Begun | null {
  const begun = { code: newToken(), secret: newToken(), number: String(randomInt(10, 100)) };
  const body: Body = { secret: tokenHash(begun.secret), number: begun.number, place: placeOf(from), wrong: 0 };
  return beginFlow(file, "frame", begun.code, body, now) ? begun : null;
}

/** Whether a frame waits to be let in by this code. `now` in milliseconds. */
export const frameWaits = (file: PortalFile, code: string, now: number): boolean => {
  const body = flowBody<Body>(file, "frame", code, now);
  return body !== undefined && !body.by;
};

/** By whoever is signed in, in a tab of the portal's own. */
export function approveFrame(
  file: PortalFile,
  session: Session,
  given: { readonly code: string; readonly number: string },
  from: string,
  now: number,
): Result<null, "over" | "wrong"> {
  const body = flowBody<Body>(file, "frame", given.code, now);
  if (!body || body.by || body.place !== placeOf(from)) return err("over");
  if (given.number.trim() !== body.number) {
    if (body.wrong + 1 >= TRIES) takeFlow(file, "frame", given.code, now);
    else changeFlow(file, "frame", given.code, { ...body, wrong: body.wrong + 1 });
    return err(body.wrong + 1 >= TRIES ? "over" : "wrong");
  }
  changeFlow(file, "frame", given.code, { ...body, by: session.hash });
  return ok(null);
}

/** What the frame asks again and again: a session's token, once; "waits"; or "over". */
export function takeFramed(file: PortalFile, code: string, secret: string, now: number): { token: string } | "waits" | "over" {
  const body = flowBody<Body>(file, "frame", code, now);
  if (!body || tokenHash(secret) !== body.secret) return "over";
  if (!body.by) return "waits";
  if (!takeFlow(file, "frame", code, now)) return "over";
  const token = startBeside(file, body.by, now, FRAMED_LASTS);
  return token === null ? "over" : { token };
}
