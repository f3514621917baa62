/** Where somebody lands after signing in: where they were going; else where their role lands, if that is open to them; else at home. */
import { fits, readerOf } from "@/core/pages/audience";
import { membershipsOf } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { doorSettings } from "@/identity/doors/settings";
import type { PortalRequest } from "@/identity/requests/request";
import { personViewer } from "@/identity/viewers/viewer";
import { safePath } from "./entry";
import { allPagesFor } from "./pages-for";

export function landingOf(r: PortalRequest, personId: string, to: string | null): string {
  const wanted = safePath(to);
  if (wanted !== "/") return r.base + wanted;
  const { landing } = doorSettings(r.file);
  const laid = r.published.definition.landing;
  const roles = membershipsOf(r.file, personId)[0]?.roles ?? [];
  const { policy } = r.published;
  const viewer = roles.some((id) => landing[id] || laid[id]) ? personViewer(r.file, personId, null, r.viewer.now) : undefined;
  if (viewer?.person?.status === "active")
    for (const id of roles) {
      const page = laid[id] && allPagesFor(r).page(laid[id].page);
      if (
        page &&
        page.about === null &&
        fits(
          page.audience,
          readerOf(policy, viewer, false, () => false),
        )
      )
        return `${r.base}/${page.address}`;
      const table = policy.schema.tables.find((t) => t.id === landing[id]);
      if (table && new Desk(r.file, policy, viewer).may(table, "see")) return `${r.base}/${table.slug}`;
    }
  return r.base || "/";
}
