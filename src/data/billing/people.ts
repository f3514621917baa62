/** People of a company as paying sees them: how many take a seat, and who may pay. */
import { PAYER } from "@/core/access/book-grants";
import type { Subscription } from "@/core/billing/subscription";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";

/** Seats taken: by people who are active or invited. Who is inactive or waits for approval takes none. */
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

/** Active people of the company who hold one of these roles there. */
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

export interface Seats {
  readonly taken: number;
  readonly paidFor: number;
  /** The price by the seat, where one more can be bought of it. */
  readonly price: string | null;
}

/** Seats that the company's plan has; null where it has as many as come, or no plan. */
export function seatsOf(file: PortalFile, company: string): Seats | null {
  const { definition } = published(file);
  const row = file.db.prepare("SELECT plan, body FROM sys_subscriptions WHERE company_id = ?").get(company) as
    | { plan: string; body: string | null }
    | undefined;
  const life = row?.body ? (JSON.parse(row.body) as Subscription) : null;
  const price = life && definition.prices.find((p) => p.id === life.terms.price);
  const plan = definition.plans.find((p) => p.id === row?.plan);
  const paidFor = price?.per === "seat" ? life!.terms.seats : (plan?.seats ?? null);
  if (paidFor === null) return null;
  return { taken: seatsTaken(file, company), paidFor, price: price?.per === "seat" ? price.id : null };
}
