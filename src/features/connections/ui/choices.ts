/** Whose access a program can have: roles with their side, and companies. */
import { companyList } from "@/data/people/directory";
import { mayHoldKey } from "@/identity/keys/keys";
import type { OfficePortal } from "@/identity/requests/office-gate";

export interface RoleChoice {
  readonly id: string;
  readonly name: string;
  readonly side: string;
  /** For a role of one company alone: that company. */
  readonly company: string | null;
}
export interface Named {
  readonly id: string;
  readonly name: string;
}

export const accessChoices = (p: OfficePortal): { roles: RoleChoice[]; companies: Named[]; tables: Named[] } => ({
  roles: p.live.policy.rules.roles.filter(mayHoldKey).map((r) => ({ id: r.id, name: r.name, side: r.side, company: r.companyId ?? null })),
  companies: companyList(p.file, p.owner),
  tables: p.live.policy.schema.tables.map((t) => ({ id: t.id, name: t.name })),
});
