"use server";
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { actorOf } from "@/core/events/event";
import { record } from "@/data/events/record";
import { personFacts } from "@/data/people/people";
import { doorSettings, keepDoors } from "@/identity/doors/settings";
import { removeSecond } from "@/identity/factors/second";
import { officePortalWrite } from "@/identity/requests/office-gate";
import { endOneOf, endOtherSessions } from "@/identity/sessions/sessions";
import { tellOfChange } from "@/letters/letters";
import { type FormState, failed, succeeded } from "@/ui/forms/form";
import { whyNoWay } from "./way-in";

export async function changeDoors(slug: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "build");
  const roles = Object.fromEntries(
    p.live.definition.roles.flatMap((r) => {
      const [doors, second] = [data.getAll(`doors:${r.id}`).map(String), data.get(`second:${r.id}`) === "on"];
      return doors.length > 0 || second ? [[r.id, { doors, second }]] : [];
    }),
  );
  const telephone = String(data.get("telephone") ?? "");
  const done = keepDoors(p.file, p.owner, {
    open: data.getAll("open").map(String),
    second: data.get("second") === "on" ? "everybody" : "whoever likes",
    roles,
    telephone: telephone || null,
    names: data.get("names") === "on",
    // Set there before pages could be landed on; a page that is set for a role stands before it.
    landing: doorSettings(p.file).landing,
  });
  if (!done.ok) return failed(before, data, {}, done.error);
  revalidatePath(p.at, "layout");
  return succeeded(before, "Kept. It counts from the next sign-in on.");
}

/** For somebody who has lost it: they come in by their first door, and make another where one is asked of them. */
export async function takeSecondAway(slug: string, personId: string): Promise<void> {
  const p = await officePortalWrite(slug, "people");
  if (!personFacts(p.file, personId)) return;
  // It is half of what keeps others out of their account.
  if (whyNoWay(p, personId) !== null) redirect(`${p.at}/people/${personId}?again=1`);
  removeSecond(p.file, personId);
  tellOfChange(p.file, personId, "second taken", p.now);
  record(p.file, {
    actor: actorOf(p.owner),
    via: "page",
    at: p.now,
    kind: "second-factor-taken",
    table: "t_people",
    record: personId,
  });
  revalidatePath(p.at, "layout");
}

/** One of somebody's sessions, or all of them: out at once. */
export async function endTheirSessions(slug: string, personId: string, which: string): Promise<void> {
  const p = await officePortalWrite(slug, "people");
  if (!personFacts(p.file, personId)) return;
  if (which === "all") endOtherSessions(p.file, personId, "");
  else endOneOf(p.file, personId, which);
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind: "sessions-ended", table: "t_people", record: personId });
  revalidatePath(p.at, "layout");
}
