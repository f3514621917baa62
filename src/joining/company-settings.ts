import { z } from "zod";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { keepSetting, settingOf } from "@/data/file/settings";
import { transact } from "@/data/file/transact";

const shape = z.object({
  /** Roles whose holders look after their company. */
  leads: z.array(z.string()),
  /** Roles that they may give to others: the ceiling. */
  give: z.array(z.string()),
  /** How many may belong to a company; null is as many as like. */
  seats: z.number().int().min(1).max(100_000).nullable(),
  seatsOf: z.record(z.string(), z.number().int().min(0).max(100_000)),
});
export type CompanySettings = z.infer<typeof shape>;
const AT_FIRST: CompanySettings = { leads: [], give: [], seats: null, seatsOf: {} };

/** What companies may do for themselves, as the owner set it. */
export function companySettings(file: PortalFile): CompanySettings {
  return settingOf(file, "company pages", shape, AT_FIRST);
}

/** A sentence where the settings are not sound. */
export function keepCompanySettings(file: PortalFile, owner: Owner, given: unknown): Result<CompanySettings, string> {
  const parsed = shape.safeParse(given);
  if (!parsed.success) return err("Seats are whole numbers, from 1 up.");
  const { roles } = published(file).definition;
  const client = (id: string) => roles.some((r) => r.id === id && r.side === "client" && !r.companyId);
  const s = { ...parsed.data, leads: parsed.data.leads.filter(client), give: parsed.data.give.filter(client) };
  transact(file, () => {
    keepSetting(file, "company pages", s);
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "company-pages-changed" });
  });
  return ok(s);
}
