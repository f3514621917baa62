"use server";
/** Who may join by themselves, who waits, and what companies do themselves. */
import { revalidatePath } from "next/cache";
import { word } from "@/identity/requests/takes";
import { decide, decideColleague } from "@/joining/approval";
import { keepCompanySettings } from "@/joining/company-settings";
import { keepJoining } from "@/joining/settings";
import { officeForm } from "@/office/action";

export const changeJoining = officeForm("build", [], (p, form) => {
  const fixed = Object.fromEntries(
    [...form.data.keys()].flatMap((k) => (k.startsWith("fixed:") && form.text(k).trim() ? [[k.slice(6), form.text(k, 2_000)]] : [])),
  );
  const done = keepJoining(p.file, p.owner, {
    who: form.text("who"),
    domains: form
      .text("domains", 10_000)
      .toLowerCase()
      .split(/[\s,;]+/)
      .filter(Boolean),
    approval: form.ticked("approval"),
    kinds: form.all("kinds"),
    fields: form.all("fields"),
    fixed,
    lead: form.text("lead") || null,
    member: form.text("member") || null,
    terms: form.text("terms", 60_000).trim(),
  });
  if (!done.ok) return form.failed({}, done.error);
  revalidatePath(p.at, "layout");
  return form.succeeded("Kept. It counts from now on.");
});

export const decideWaiting = officeForm("people", [word], (p, form, personId) => {
  const done = decide(p.file, p.owner, personId, {
    yes: form.text("act") === "yes",
    note: form.text("note", 2_000),
    companyId: form.text("company") || null,
    roles: form.all("roles"),
  });
  if (!done.ok) return form.failed({}, done.error);
  revalidatePath(p.at, "layout");
  return form.succeeded("Decided.");
});

export const decideAsked = officeForm("people", [word], (p, form, joinId) => {
  const done = decideColleague(p.file, p.owner, joinId, form.text("act") === "yes");
  if (!done.ok) return form.failed({}, done.error);
  revalidatePath(p.at, "layout");
  return form.succeeded("Decided.");
});

export const changeCompanyPages = officeForm("build", [], (p, form) => {
  const number = (t: string): number | null => (t.trim() === "" ? null : Number(t));
  const seatsOf = Object.fromEntries(
    [...form.data.keys()].flatMap((k) => {
      const seats = k.startsWith("seats:") ? number(form.text(k)) : null;
      return seats === null ? [] : [[k.slice(6), seats]];
    }),
  );
  const done = keepCompanySettings(p.file, p.owner, {
    leads: form.all("leads"),
    give: form.all("give"),
    seats: number(form.text("seats")),
    seatsOf,
  });
  if (!done.ok) return form.failed({}, done.error);
  revalidatePath(p.at, "layout");
  return form.succeeded("Kept. It counts from now on.");
});
