"use server";
/** Who may join by themselves, who waits, and what companies do themselves. */
import { revalidatePath } from "next/cache";
import { officePortalWrite } from "@/identity/requests/office-gate";
import { decide, decideColleague } from "@/joining/approval";
import { keepCompanySettings } from "@/joining/company-settings";
import { keepJoining } from "@/joining/settings";
import { type FormState, failed, succeeded } from "@/ui/forms/form";

const text = (data: FormData, name: string, most = 300): string => String(data.get(name) ?? "").slice(0, most);
const many = (data: FormData, name: string): string[] => data.getAll(name).map(String);

export async function changeJoining(slug: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "build");
  const fixed = Object.fromEntries(
    [...data.keys()].flatMap((k) => (k.startsWith("fixed:") && text(data, k).trim() ? [[k.slice(6), text(data, k, 2_000)]] : [])),
  );
  const done = keepJoining(p.file, p.owner, {
    who: text(data, "who"),
    domains: text(data, "domains", 10_000)
      .toLowerCase()
      .split(/[\s,;]+/)
      .filter(Boolean),
    approval: data.get("approval") === "on",
    kinds: many(data, "kinds"),
    fields: many(data, "fields"),
    fixed,
    lead: text(data, "lead") || null,
    member: text(data, "member") || null,
    terms: text(data, "terms", 60_000).trim(),
  });
  if (!done.ok) return failed(before, data, {}, done.error);
  revalidatePath(p.at, "layout");
  return succeeded(before, "Kept. It counts from now on.");
}

export async function decideWaiting(slug: string, personId: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "people");
  const done = decide(p.file, p.owner, personId, {
    yes: text(data, "act") === "yes",
    note: text(data, "note", 2_000),
    companyId: text(data, "company") || null,
    roles: many(data, "roles"),
  });
  if (!done.ok) return failed(before, data, {}, done.error);
  revalidatePath(p.at, "layout");
  return succeeded(before, "Decided.");
}

export async function decideAsked(slug: string, joinId: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "people");
  const done = decideColleague(p.file, p.owner, joinId, text(data, "act") === "yes");
  if (!done.ok) return failed(before, data, {}, done.error);
  revalidatePath(p.at, "layout");
  return succeeded(before, "Decided.");
}

export async function changeCompanyPages(slug: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "build");
  const number = (t: string): number | null => (t.trim() === "" ? null : Number(t));
  const seatsOf = Object.fromEntries(
    [...data.keys()].flatMap((k) => {
      const seats = k.startsWith("seats:") ? number(text(data, k)) : null;
      return seats === null ? [] : [[k.slice(6), seats]];
    }),
  );
  const done = keepCompanySettings(p.file, p.owner, {
    leads: many(data, "leads"),
    give: many(data, "give"),
    seats: number(text(data, "seats")),
    seatsOf,
  });
  if (!done.ok) return failed(before, data, {}, done.error);
  revalidatePath(p.at, "layout");
  return succeeded(before, "Kept. It counts from now on.");
}
