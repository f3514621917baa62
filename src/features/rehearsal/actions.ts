"use server";
/** A rehearsal begun, moved on in time, looked at as anybody, and ended. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { config } from "@/config";
import { actorOf } from "@/core/events/event";
import { plusDays } from "@/core/prices/periods";
import { dateIn } from "@/core/time/relative";
import { startOfDay } from "@/core/time/zoned";
import { moveCustomers } from "@/data/billing/buyers";
import { nextDue } from "@/data/billing/life";
import { changeDraft, draftOf } from "@/data/definition/draft";
import { record } from "@/data/events/record";
import { rehearsalIn, timeIn } from "@/data/file/clock";
import { portalFile } from "@/data/file/open";
import { endRehearsal, makeRehearsal, rehearsalSlug, setAhead } from "@/data/installation/rehearsal";
import { personFacts } from "@/data/people/people";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { REHEARSED, writeTicket } from "@/identity/requests/see-as";
import { ownerViewer } from "@/identity/viewers/viewer";
import { officeCall, officeForm } from "@/office/action";
import { settleDue } from "@/office/settle-due";
import { keepAccount, payAccount } from "@/orders/account";
import { providerOf } from "@/services/payments";

/** The copy, and a test account at the provider for it: what is paid in it is none of the portal's. */
export const beginRehearsal = officeCall("build", [], async (p): Promise<void> => {
  if (rehearsalIn(p.file)) redirect(`${p.at}/rehearsal`);
  const file = await makeRehearsal(p.file, p.owner, p.staff.name);
  record(p.file, { actor: actorOf(p.owner), via: "page", at: p.now, kind: "rehearsal-begun" });
  const provider = providerOf(config());
  const account = payAccount(p.file);
  if (provider?.rehearsal && account) {
    const made = await provider.rehearsal(account, `${portalAddress(file.slug)}/-/payments/events`, `rehearsal-${file.id}`);
    if (made.ok) {
      keepAccount(file, p.owner, { ...made.value, mode: "test" });
      moveCustomers(file, account.account, payAccount(file)!.account);
    }
  }
  redirect(`/portals/${rehearsalSlug(p.slug)}/rehearsal`);
});

export const stopRehearsal = officeCall("build", [], async (p): Promise<void> => {
  const of = rehearsalIn(p.file)?.slug ?? p.slug;
  endRehearsal(of, p.owner);
  redirect(`/portals/${of}/rehearsal`);
});

/** What was drafted in it becomes the draft of the portal, to be checked and published there as any draft is. Nothing else goes back. */
export const carryDraft = officeForm("build", [], (p, form) => {
  const of = rehearsalIn(p.file)?.slug;
  const source = of ? portalFile(of) : undefined;
  if (!source) return form.failed({}, "The portal is not there any more.");
  const { definition, changed } = draftOf(p.file, p.owner);
  if (!changed) return form.failed({}, "Nothing is drafted here that is not published here.");
  const owner = ownerViewer(p.staff, Date.now());
  const done = changeDraft(source, owner, draftOf(source, owner).revision, () => definition, "the draft of a rehearsal");
  if (!done.ok)
    return form.failed(
      {},
      done.error.code === "stale" ? "Somebody changed the portal's draft just now. Try again." : done.error.messages.join(" "),
    );
  revalidatePath("/", "layout");
  return form.succeeded("It is the portal's draft now. Undo it there, if that was a mistake.");
});

export const anew = officeCall("build", [], async (p): Promise<void> => {
  const of = rehearsalIn(p.file)?.slug;
  if (!of) redirect(`${p.at}/rehearsal`);
  await beginRehearsal(of);
});

/** Days on, or to the next day on which something falls due: each day on the way is lived through, as it would have been. */
export const moveOn = officeCall("build", [z.instanceof(FormData)], async (p, data): Promise<void> => {
  const facts = rehearsalIn(p.file);
  const days = Number(data.get("days"));
  if (facts) {
    const { timeZone } = p.live.definition.portal;
    const today = dateIn(p.now, timeZone);
    const next = nextDue(p.file, today);
    const to = data.get("to") === "next" ? next : Number.isInteger(days) && days > 0 && days <= 400 ? plusDays(today, days) : null;
    if (to && to > today) await liveUntil(p, to, timeZone);
  }
  revalidatePath("/", "layout");
  redirect(`${p.at}/rehearsal`);
});

async function liveUntil(p: OfficePortal, to: string, timeZone: string): Promise<void> {
  for (;;) {
    const today = dateIn(timeIn(p.file, Date.now()), timeZone);
    const due = nextDue(p.file, today);
    const day = due !== null && due <= to ? due : to;
    // Nine in the morning of that day, where its people are.
    const at = Date.parse(startOfDay(day, timeZone)) + 9 * 3_600_000;
    setAhead(p.file, p.owner, at - Date.now());
    await tellProvider(p);
    await settleDue(p.file);
    if (day >= to) return;
  }
}

/** The provider dates what it takes by the same clock. */
async function tellProvider(p: OfficePortal): Promise<void> {
  const provider = providerOf(config());
  const account = payAccount(p.file);
  const ahead = rehearsalIn(p.file)?.ahead ?? 0;
  if (provider?.rehearsalClock && account) await provider.rehearsalClock(account, ahead, `clock-${p.file.id}-${ahead}`);
}

/** In as somebody, by one click and with a session of their own: in a rehearsal alone, where nobody has a password. */
export const beThem = officeCall("people", [z.instanceof(FormData)], async (p, data): Promise<void> => {
  const person = personFacts(p.file, String(data.get("person") ?? ""));
  if (!rehearsalIn(p.file) || !person) redirect(`${p.at}/rehearsal`);
  const ticket = writeTicket(p.file.id, { personId: person.id, membershipId: null, session: REHEARSED }, Date.now());
  redirect(`${portalAddress(p.slug)}/-/be?ticket=${ticket}`);
});
