"use server";
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { actorOf } from "@/core/events/event";
import { record } from "@/data/events/record";
import { personFacts } from "@/data/people/people";
import { doorSettings, keepDoors } from "@/identity/doors/settings";
import { removeSecond } from "@/identity/factors/second";
import { word } from "@/identity/requests/takes";
import { endOneOf, endOtherSessions } from "@/identity/sessions/sessions";
import { officeCall, officeForm } from "@/office/action";
import { whyNoWay } from "./way-in";

export const changeDoors = officeForm("build", [], (p, form) => {
  const roles = Object.fromEntries(
    p.live.definition.roles.flatMap((r) => {
      const [doors, second] = [form.data.getAll(`doors:${r.id}`).map(String), form.data.get(`second:${r.id}`) === "on"];
      return doors.length > 0 || second ? [[r.id, { doors, second }]] : [];
    }),
  );
  const telephone = form.text("telephone");
  const done = keepDoors(p.file, p.owner, {
    open: form.all("open"),
    second: form.ticked("second") ? "everybody" : "whoever likes",
    roles,
    telephone: telephone || null,
    names: form.ticked("names"),
    // Set there before pages could be landed on; a page that is set for a role stands before it.
    landing: doorSettings(p.file).landing,
  });
  if (!done.ok) return form.failed({}, done.error);
  revalidatePath(p.at, "layout");
  return form.succeeded("Kept. It counts from the next sign-in on.");
});

/** For somebody who has lost it: they come in by their first door, and make another where one is asked of them. */
export const takeSecondAway = officeCall("people", [word], async (p, personId): Promise<void> => {
  if (!personFacts(p.file, personId)) return;
  // It is half of what keeps others out of their account.
  if (whyNoWay(p, personId) !== null) redirect(`${p.at}/people/${personId}?again=1`);
  removeSecond(p.file, personId);
  record(p.file, {
    actor: actorOf(p.owner),
    via: "page",
    at: p.now,
    kind: "second-factor-taken",
    table: "t_people",
    record: personId,
  });
  revalidatePath(p.at, "layout");
});

/** Ends one of somebody's sessions, or all of them, at once. */
export const endTheirSessions = officeCall("people", [word, word], async (p, personId, which): Promise<void> => {
  if (!personFacts(p.file, personId)) return;
  if (which === "all") endOtherSessions(p.file, personId, "");
  else endOneOf(p.file, personId, which);
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind: "sessions-ended", table: "t_people", record: personId });
  revalidatePath(p.at, "layout");
});
