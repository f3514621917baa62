/** Who there is to choose from: companies and roles for a membership, people by name. */
import { dateIn } from "@/core/time/relative";
import { directory, peopleNamed } from "@/data/people/directory";
import { personFacts } from "@/data/people/people";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { leastRole } from "@/joining/least-role";
import type { CompanyChoice, RoleChoice } from "./ui/forms";

interface MembershipChoices {
  companies: CompanyChoice[];
  roles: RoleChoice[];
  agency: string;
  /** Ids of the roles that allow least, of either side: chosen until somebody chooses otherwise. */
  least: string[];
}

/** Companies and roles that a membership can have. */
export function membershipChoices(p: OfficePortal): MembershipChoices {
  const { definition } = p.live;
  const { companies } = directory(p.file, p.owner, dateIn(p.now, definition.portal.timeZone));
  const roles = definition.roles.flatMap((r) =>
    r.side === "visitor" ? [] : [{ id: r.id, name: r.name, side: r.side, companyId: r.companyId ?? null }],
  );
  const least = (["client", "agency"] as const).flatMap((side) => leastRole(p.file, side) ?? []);
  return { companies: companies.map((c) => ({ id: c.id, name: c.name })), roles, agency: definition.portal.name, least };
}

/** People by any part of name, company, role or e-mail; the first few. */
export const peopleBy = (p: OfficePortal, words: string): ReturnType<typeof peopleNamed> =>
  peopleNamed(p.file, p.owner, words.slice(0, 100));

/** A person's name; undefined where there is nobody such. */
export const personName = (p: OfficePortal, id: string): string | undefined => personFacts(p.file, id)?.name;
