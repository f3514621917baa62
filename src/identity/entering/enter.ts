/** The one place where somebody is let in: whatever door they came by, it asks the same of them. */
import { err, ok, type Result } from "@/core/result";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { accountOf, isOver } from "@/data/people/account";
import { actingOf } from "@/data/people/acting";
import { membershipsOf, personFacts, setStatus } from "@/data/people/people";
import type { Door, Proved, Refused } from "../doors/contract";
import { askedOf, type DoorId, type DoorSettings, doorSettings, isStay, showsMail } from "../doors/settings";
import { secondState } from "../factors/second";
import { type Guessed, liftStop, type SecondRefused, trySecond } from "../factors/try-second";
import type { From } from "../limits/limits";
import { endSessionOf, type Session, type SessionStep, startSession } from "../sessions/sessions";

export interface Entered {
  readonly token: string;
  readonly personId: string;
  readonly mustChoosePassword: boolean;
  /** What is still to come before anything opens. */
  readonly step: SessionStep;
}

/** A link by mail is how a forgotten password is replaced: it is open wherever passwords are. */
const opens = (id: DoorId, open: readonly DoorId[]): boolean => open.includes(id) || (id === "link" && open.includes("password"));

/**
 * Signs somebody in who proves it by this method: a session, or a half one where a second factor is asked for. Limits count before
 * anything is looked at.
 */
export async function comeIn<G>(file: PortalFile, door: Door<G>, given: G, from: From, now: number): Promise<Result<Entered, Refused>> {
  const settings = doorSettings(file);
  // Shut for all: nothing is looked at, so that it tells nothing. An invitation is known when its link has been.
  if (door.id !== "link" && !opens(door.id, settings.open)) return err({ code: "shut", open: settings.open });
  const proved = await door.prove(file, given, from, now);
  return proved.ok ? letIn(file, door, settings, proved.value, now) : proved;
}

function letIn(
  file: PortalFile,
  door: Pick<Door<unknown>, "id" | "twofold">,
  settings: DoorSettings,
  proved: Proved,
  now: number,
): Result<Entered, Refused> {
  const { personId } = proved;
  const who = actingOf(file, personId);
  const over =
    who && (who.person.status === "expired" || isOver(accountOf(file, personId).until, now, published(file).definition.portal.timeZone));
  // Who they are has been shown: that their account has ended is no secret from them.
  if (over && door.id !== "link") return err({ code: "ended" });
  if (!who || over || !MAY_COME.has(who.person.status))
    return err(door.id === "link" ? { code: "link", state: "unknown" } : { code: "wrong" });
  // What is asked of a role is asked of every role that includes it.
  const { policy } = published(file);
  const roles = new Set(who.memberships.flatMap((m) => m.roles).flatMap((r) => [...policy.closure(r)]));
  const asked = askedOf(settings, [...roles]);
  if (!proved.invited && !opens(door.id, asked.doors)) return err({ code: "shut", open: asked.doors });
  const has = secondState(file, personId).since !== null;
  const step: SessionStep = door.twofold ? "in" : has ? "second" : asked.second ? "enrol" : "in";
  // A factor that whoever has the link makes would outlast it, and keep its person out.
  if (isStay(door.id) && step === "enrol") return err({ code: "shut", open: [] });
  // Whoever opens what was mailed has their mail: a stop that wrong codes brought about is lifted, and the code is asked for all the same.
  if (showsMail(door.id)) liftStop(file, personId);
  if (who.person.status === "invited") setStatus(file, { kind: "person", id: personId }, personId, "active", now);
  const token = startSession(file, personId, membershipsOf(file, personId)[0]?.id ?? null, now, door.id, step);
  return ok({ token, personId, mustChoosePassword: proved.temporary === true, step });
}

/** Whoever has just confirmed that the address is theirs. */
export const letInConfirmed = (file: PortalFile, personId: string, now: number): Result<Entered, Refused> =>
  letIn(file, { id: "link", twofold: false }, doorSettings(file), { personId, invited: true }, now);

const MAY_COME: ReadonlySet<string> = new Set(["active", "invited", "awaiting approval"]);

/** Gives the second factor: a new session replaces the half one that waited for it. */
export function passSecond(
  file: PortalFile,
  half: Session,
  given: string,
  from: From,
  now: number,
  tell: (what: Guessed) => void,
): Result<{ token: string }, SecondRefused> {
  if (half.step !== "second") return err({ code: "wrong" });
  const tried = trySecond(file, half.personId, given, { from, now, tell });
  if (!tried.ok) return tried;
  return ok({ token: riseFrom(file, half, now) });
}

/** Rights rise: another token. What had been proved first stays what it was. */
export function riseFrom(file: PortalFile, half: Session, now: number): string {
  if (!personFacts(file, half.personId)) throw new Error("Whoever waited for their second step is gone.");
  const token = startSession(file, half.personId, half.membershipId, now, half.via, "in");
  endSessionOf(file, half);
  return token;
}
