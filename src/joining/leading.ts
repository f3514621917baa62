/** Who leads the company that they act for. */
import type { Viewer } from "@/core/access/who/viewer";
import type { PortalFile } from "@/data/file/open";
import { companySettings } from "./company-settings";

export interface Place {
  readonly id: string;
  readonly companyId: string | null;
  readonly roles: readonly string[];
}

/**
 * The place by which the viewer leads the company that they act for, among those that they hold; null where they lead none. A read-only look
 * as somebody leads none.
 */
export function leadingPlace(file: PortalFile, viewer: Viewer, places: () => readonly Place[]): Place | null {
  const { company, person } = viewer;
  if (!company || viewer.kind !== "person" || viewer.mode !== "live" || person?.status !== "active") return null;
  const { leads } = companySettings(file);
  if (leads.length === 0) return null;
  const own = places().find((m) => m.id === viewer.membershipId);
  return own && own.companyId === company.id && own.roles.some((r) => leads.includes(r)) ? own : null;
}
