import { EVERYONE, type Role } from "@/core/access/rules";
import { leastFirst } from "@/core/review/least";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { companySettings } from "./company-settings";

/** Roles that people may be given in any company, the one that allows least first: it is the first choice in every way in. */
export function rolesToGive(file: PortalFile, side: "client" | "agency"): Role[] {
  const { definition } = published(file);
  const among = definition.roles.filter((r) => r.side === side && r.id !== EVERYONE && !r.companyId);
  return leastFirst(definition, among, companySettings(file).leads);
}
/** The role of that side that opens least; null where it has none to give. */
export const leastRole = (file: PortalFile, side: "client" | "agency"): string | null => rolesToGive(file, side)[0]?.id ?? null;
