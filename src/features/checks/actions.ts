"use server";
import { redirect } from "next/navigation";
import { actorOf } from "@/core/events/event";
import { record } from "@/data/events/record";
import { membershipsOf, personFacts } from "@/data/people/people";
import { officePortalWrite } from "@/identity/office-gate";
import { setSeeAsCookie } from "@/identity/request";
import { SEE_AS_LASTS, seeAsCookie } from "@/identity/see-as";

/** Opens the portal as a person sees it: a signed cookie for half an hour, a reading handle, an audit row. */
export async function seeAs(slug: string, data: FormData): Promise<void> {
  const p = await officePortalWrite(slug);
  const person = personFacts(p.file, String(data.get("person") ?? ""));
  if (!person) redirect(`${p.at}/check`);
  const wanted = String(data.get("membership") ?? "");
  const membership = membershipsOf(p.file, person.id).find((m) => m.id === wanted);
  const now = p.now;
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, act: "saw the portal as", table: "t_people", record: person.id });
  await setSeeAsCookie(
    p.file.id,
    slug,
    seeAsCookie(p.file.id, { personId: person.id, membershipId: membership?.id ?? null, staffId: p.staff.id }, now),
    SEE_AS_LASTS / 1000,
  );
  redirect(`/p/${slug}`);
}
