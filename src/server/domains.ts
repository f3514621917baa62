/**
 * Names of hosts that an agency brought along are looked at again each day: one whose record or file is gone for two days in a row leads to the
 * portal no more, since it may be somebody else's by now. Its owners are told at the first day, and when it stops.
 */
import { createHash } from "node:crypto";
import { config } from "@/config";
import { eachShown, missedAgain, stopDomain } from "@/data/installation/domains";
import { mailOf } from "@/services/mail";
import { namesOf } from "@/services/names";
import { lookAtName } from "@/services/names/shown";
import { ownersOf } from "@/staff/staff";
import { log } from "./log";

/** Days in a row without its record, after which a name stops: name servers have bad days. */
const STOPS_AFTER = 2;

export async function lookAtDomains(now: number): Promise<void> {
  const names = namesOf(config());
  for (const d of eachShown()) {
    const { by, texts } = await lookAtName(names, d.host, d.token);
    // No name server could be asked: that tells nothing about the record.
    if (by === null && texts === null) continue;
    const missed = missedAgain(d.portal, d.host, by === null);
    if (missed === 0) continue;
    if (missed >= STOPS_AFTER) stopDomain(d.portal, d.host);
    await tellOwners(d.host, missed >= STOPS_AFTER, now);
  }
}

async function tellOwners(host: string, stopped: boolean, now: number): Promise<void> {
  const words = stopped
    ? `${host} no longer leads to your portal: the record that shows it is yours has been gone for two days. Add the record again under Brand, Addresses.`
    : `The record that shows that ${host} is yours could not be found. If it is still gone tomorrow, ${host} stops leading to your portal. See Brand, Addresses.`;
  for (const o of ownersOf()) {
    const text = `Hello ${o.name.split(" ")[0]},\n\n${words}\n`;
    const sent = await mailOf(config()).send(
      { to: o.email, subject: `${host}: ${stopped ? "stopped" : "record not found"}`, text },
      `domain-${createHash("sha256").update(host).digest("hex").slice(0, 32)}-${o.id}-${now}`,
    );
    if (!sent.ok) log().error({ host, why: sent.error.message }, "owners could not be told of a domain");
  }
}
