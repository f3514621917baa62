/** Where somebody lands after signing in: where they were going; else where their role lands, if that is open to them; else at home. */
import { membershipsOf } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { doorSettings } from "@/identity/doors/settings";
import type { PortalRequest } from "@/identity/request";
import { personViewer } from "@/identity/viewer";
import { safePath } from "./gate";

export function landingOf(r: PortalRequest, personId: string, to: string | null): string {
  const wanted = safePath(to);
  if (wanted !== "/") return r.base + wanted;
  const { landing } = doorSettings(r.file);
  const roles = membershipsOf(r.file, personId)[0]?.roles ?? [];
  const { policy } = r.published;
  const viewer = roles.some((id) => landing[id]) ? personViewer(r.file, personId, null, r.viewer.now) : undefined;
  if (viewer?.person?.status === "active")
    for (const id of roles) {
      const table = policy.schema.tables.find((t) => t.id === landing[id]);
      if (table && new Desk(r.file, policy, viewer).may(table, "see")) return `${r.base}/${table.slug}`;
    }
  return r.base || "/";
}
