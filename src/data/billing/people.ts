/** People of a company as paying sees them: how many take a seat, and who may pay. */
import { PAYER } from "@/core/access/books";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";

/** Those who are in or asked in; who is inactive or waits takes none. */
export const seatsTaken = (file: PortalFile, company: string): number =>
  file.db
    .prepare(
      `SELECT count(DISTINCT m.person_id) FROM sys_memberships m JOIN t_people p ON p.id = m.person_id
       WHERE m.company_id = ? AND p.f_person_status IN ('active', 'invited')`,
    )
    .pluck()
    .get(company) as number;

export interface Payer {
  readonly id: string;
  readonly name: string;
  readonly email: string;
}

/** Those who are in and hold one of these roles there. */
const holdersIn = (file: PortalFile, company: string, roles: ReadonlySet<string>): Payer[] =>
  (
    file.db
      .prepare(
        `SELECT p.id, p.f_person_name AS name, p.f_person_email AS email, m.roles FROM sys_memberships m JOIN t_people p ON p.id = m.person_id
         WHERE m.company_id = ? AND p.f_person_status = 'active' ORDER BY p.f_person_name, p.id`,
      )
      .all(company) as (Payer & { roles: string })[]
  )
    .filter((p) => (JSON.parse(p.roles) as string[]).some((r) => roles.has(r)))
    .map(({ id, name, email }) => ({ id, name, email: email ?? "" }));

/** Who may pay for a company, by the roles that the owner says may. */
export function payersOf(file: PortalFile, company: string): Payer[] {
  const { policy, definition } = published(file);
  return holdersIn(file, company, new Set(definition.roles.filter((r) => policy.closure(r.id).has(PAYER)).map((r) => r.id)));
}
