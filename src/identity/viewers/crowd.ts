/** A viewer for every membership of a portal, and for visitors: for counting what all of them see. Read in bulk. */

import type { Row } from "@/core/access/row";
import { asSignedIn, type Owner, type PersonStatus, type Viewer } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { dateIn } from "@/core/time/relative";
import { type Standing, standings } from "@/data/billing/standing";
import type { PortalFile } from "@/data/file/open";
import { type Accounts, accountsOf } from "@/data/people/accounts";
import { actingViewer, visitorViewer } from "./viewer";

export interface Someone {
  readonly viewer: Viewer;
  /** Null for visitors. */
  readonly personId: string | null;
  readonly membershipId: string | null;
  readonly name: string;
  readonly companyId: string | null;
  /** As the office shows it; null for the agency's own people, for those without a membership, and for visitors. */
  readonly company: string | null;
  readonly roles: readonly string[];
  readonly status: PersonStatus | "visitor" | "nobody yet";
}

interface Wanted {
  /** As though every account were active, the suspended and the waiting too: what is forbidden must hold whoever comes in. */
  readonly asActive?: boolean;
}

/** All accounts of a portal at one time, read once for whoever asks of them in several ways. */
export class Crowd {
  readonly #found: Accounts;
  readonly #standings: ReturnType<typeof standings>;
  readonly #visitor: Viewer;

  constructor(
    file: PortalFile,
    private readonly definition: Definition,
    owner: Owner,
    private readonly now: number,
  ) {
    this.#found = accountsOf(file, owner);
    this.#standings = standings(file, definition, dateIn(now, definition.portal.timeZone));
    this.#visitor = visitorViewer(file, now);
  }

  #paidBy = (company: string, person: string): Standing => this.#standings.of(company, person);

  /** Of whoever has not been in yet, as they will be once they are. By company, then by name; the agency's own people and those without a company first, visitors last. */
  everyone(wanted: Wanted = {}): Someone[] {
    const { people, companies, names, memberships } = this.#found;
    const facts = new Map([...companies].map(([id, row]) => [id, factsOf(row)]));
    const found: Someone[] = people.flatMap((p) => {
      const status = String(p.values.f_person_status ?? "") as PersonStatus;
      const name = String(p.values.f_person_name ?? "");
      const real = { id: p.id, name, status, values: p.values };
      const person = wanted.asActive ? { ...real, status: "active" as const } : asSignedIn(real);
      return (memberships.get(p.id) ?? [null]).map((m): Someone => {
        const company = (m?.companyId && facts.get(m.companyId)) || null;
        const acting = { person, membership: m ?? undefined, company, now: this.now, mode: "see-as" as const };
        return {
          viewer: actingViewer(this.definition, acting, this.#paidBy),
          personId: p.id,
          membershipId: m?.id ?? null,
          name,
          companyId: company?.id ?? null,
          company: company ? (names.get(company.id) ?? company.name) : null,
          roles: m?.roles ?? [],
          status,
        };
      });
    });
    const order = new Intl.Collator(this.definition.portal.locale);
    found.sort((a, b) => order.compare(a.company ?? "", b.company ?? "") || order.compare(a.name, b.name));
    found.push({
      viewer: this.#visitor,
      personId: null,
      membershipId: null,
      name: "A visitor",
      companyId: null,
      company: null,
      roles: [],
      status: "visitor",
    });
    return found;
  }

  /** Somebody new in each company for every role that nobody holds there, with nothing filled in about them yet. */
  newcomers(isHeld: (role: string, company: string | null) => boolean): Someone[] {
    const companies = [...this.#found.companies.values()].map(factsOf);
    const person = { id: "", name: "", status: "active" as const, values: {} };
    return this.definition.roles
      .filter((r) => r.side !== "visitor")
      .flatMap((r) =>
        (r.side === "agency" ? [null] : companies.filter((c) => !r.companyId || r.companyId === c.id))
          .filter((c) => !isHeld(r.id, c?.id ?? null))
          .map((company): Someone => {
            const acting = { person, membership: { id: "", roles: [r.id] }, company, now: this.now, mode: "see-as" as const };
            return {
              viewer: actingViewer(this.definition, acting, this.#paidBy),
              personId: null,
              membershipId: null,
              name: `Somebody new as ${r.name}`,
              companyId: company?.id ?? null,
              company: company ? (this.#found.names.get(company.id) ?? company.name) : null,
              roles: [r.id],
              status: "nobody yet",
            };
          }),
      );
  }
}

const factsOf = (row: Row) => ({ id: row.id, name: String(row.values.f_company_name ?? ""), values: row.values });

/** Everybody with an account as a viewer under the definition, once for each membership. `now` in milliseconds. */
export const everyone = (file: PortalFile, definition: Definition, owner: Owner, now: number): Someone[] =>
  new Crowd(file, definition, owner, now).everyone();
