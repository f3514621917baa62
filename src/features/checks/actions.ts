"use server";
import { redirect } from "next/navigation";
import { z } from "zod";
import { actorOf } from "@/core/events/event";
import { record } from "@/data/events/record";
import { membershipsOf, personFacts } from "@/data/people/people";
import { wayToSeeAs } from "@/identity/requests/request";
import { AS_VISITOR } from "@/identity/requests/see-as";
import { officeCall } from "@/office/action";

/** Opens the portal as a person sees it: a ticket to the portal's own host, and an event that says so. */
export const seeAs = officeCall("records", [z.instanceof(FormData)], async (p, data): Promise<void> => {
  if (data.get("person") === AS_VISITOR) {
    record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind: "seen-as", detail: "a visitor" });
    redirect(await wayToSeeAs(p.file, p.slug, { personId: AS_VISITOR, membershipId: null, session: p.session }, p.now));
  }
  const person = personFacts(p.file, String(data.get("person") ?? ""));
  if (!person) redirect(`${p.at}/check`);
  const wanted = String(data.get("membership") ?? "");
  const membership = membershipsOf(p.file, person.id).find((m) => m.id === wanted);
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind: "seen-as", table: "t_people", record: person.id });
  redirect(await wayToSeeAs(p.file, p.slug, { personId: person.id, membershipId: membership?.id ?? null, session: p.session }, p.now));
});
