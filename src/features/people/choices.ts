/** Companies and roles that a membership may have. */
import { dateIn } from "@/core/time/relative";
import { directory } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/office-gate";
import type { CompanyChoice, RoleChoice } from "./ui/forms";

export function membershipChoices(p: OfficePortal): { companies: CompanyChoice[]; roles: RoleChoice[]; agency: string } {
  const { definition } = p.live;
  const { companies } = directory(p.file, p.owner, dateIn(p.now, definition.portal.timeZone));
  const roles = definition.roles.flatMap((r) =>
    r.side === "visitor" ? [] : [{ id: r.id, name: r.name, side: r.side, companyId: r.companyId ?? null }],
  );
  return { companies: companies.map((c) => ({ id: c.id, name: c.name })), roles, agency: definition.portal.name };
}
