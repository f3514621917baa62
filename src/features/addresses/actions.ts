"use server";
/** Domains of the agency's: added, shown to be theirs, made the main one, taken away. */
import { revalidatePath } from "next/cache";
import { config } from "@/config";
import { readDomain, recordName } from "@/core/address/domain";
import { actorOf } from "@/core/events/event";
import type { EventKind } from "@/core/events/kinds";
import { record } from "@/data/events/record";
import { addDomain, domainsOf, dropDomain, keepMain, keepShown, MOST_DOMAINS, portalWith } from "@/data/installation/domains";
import { addressAt, ownAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { word } from "@/identity/requests/takes";
import { newToken } from "@/identity/secrets/secrets";
import { officeCall, officeForm } from "@/office/action";
import { namesOf } from "@/services/names";
import { lookAtName } from "@/services/names/shown";

function told(p: OfficePortal, kind: EventKind, detail: string): void {
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind, detail });
  revalidatePath(p.at, "layout");
}

export const addDomainForm = officeForm("build", [], (p, form) => {
  const read = readDomain(form.text("host", 1_000), config().address.hostname.toLowerCase());
  if (!read.ok) return form.failed({ host: read.error });
  const host = read.value;
  const there = domainsOf(p.file.id, p.owner);
  if (there.some((d) => d.host === host)) return form.failed({ host: `${host} stands here already.` });
  if (there.length >= MOST_DOMAINS) return form.failed({ host: `A portal has up to ${MOST_DOMAINS} domains. Remove one first.` });
  const other = portalWith(host);
  if (other) return form.failed({ host: `${host} leads to the portal ${other}. Remove it there first.` });
  addDomain(p.file.id, p.owner, host, newToken().slice(0, 32), p.now);
  told(p, "domain-added", host);
  return form.succeeded(`${host} has been added. Now show that it is yours.`);
});

/** Looks for the record, then for the file: either will do. */
export const lookForDomain = officeForm("build", [word], async (p, form, host) => {
  const d = domainsOf(p.file.id, p.owner).find((x) => x.host === host);
  if (!d) return form.failed({}, "This domain is not here any more. Load the page anew.");
  if (d.shownAt !== null) return form.succeeded("It has been shown to be yours already.");
  const { by, texts, file } = await lookAtName(namesOf(config()), host, d.token);
  if (!by) return form.failed({}, whyNot(host, texts, file));
  if (!keepShown(p.file.id, p.owner, host, by, Date.now()))
    return form.failed({}, `${host} leads to another portal by now. Remove it there first.`);
  told(p, "domain-shown", `${host}, by a ${by}`);
  return form.succeeded(`${host} is yours, as the ${by === "record" ? "text record" : "file"} shows. It leads to this portal now.`);
});

function whyNot(host: string, texts: readonly string[] | null, file: string | null): string {
  const record =
    texts === null
      ? "No name server answered."
      : texts.length === 0
        ? `There is no text record at ${recordName(host)}. A new one can take up to an hour to be seen everywhere.`
        : `The text record at ${recordName(host)} says something else: “${texts[0]!.slice(0, 80)}”.`;
  return `${record} ${file === null ? "There is no file, either." : "The file says something else."}`;
}

/** `host` is null for the portal's own address. */
export const makeMain = officeCall("build", [word.nullable()], async (p, host): Promise<void> => {
  if (!keepMain(p.file.id, p.owner, host)) return revalidatePath(p.at, "layout");
  told(p, "domain-chosen", host === null ? ownAddress(p.slug) : addressAt(host));
});

export const removeDomain = officeCall("build", [word], async (p, host): Promise<void> => {
  if (dropDomain(p.file.id, p.owner, host)) told(p, "domain-removed", host);
});
