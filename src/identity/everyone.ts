/** A viewer for every membership of a portal, and for visitors: for counting what all of them see. Read in bulk. */
import type { PersonStatus, Viewer } from "@/core/access/viewer";
import type { Definition } from "@/core/definition";
import { dateIn } from "@/core/time/relative";
import { everybody } from "@/data/everybody";
import type { PortalFile } from "@/data/open";
import type { Owner } from "@/data/owner";
import { standingOf } from "@/data/standing";
import { actingViewer, visitorViewer } from "./viewer";

export interface Someone {
  readonly viewer: Viewer;
  /** Null for visitors. */
  readonly personId: string | null;
  readonly membershipId: string | null;
  readonly name: string;
  readonly companyId: string | null;
  /** Null for the agency's own people, for those without a membership, and for visitors. */
  readonly company: string | null;
  readonly roles: readonly string[];
  readonly status: PersonStatus | "visitor" | "nobody yet";
}

interface Wanted {
  /** As though every account were active: what holds for everybody must hold for those who are still invited, too. */
  readonly asActive?: boolean;
}

/** By company, then by name; the agency's own people and those without a company first, visitors last. */
export function everyone(file: PortalFile, definition: Definition, owner: Owner, now: number, wanted: Wanted = {}): Someone[] {
  const { timeZone } = definition.portal;
  const today = dateIn(now, timeZone);
  const { people, companies, memberships } = everybody(file, owner);
  const features = new Map<string, ReadonlySet<string>>();
  const featuresOf = (id: string): ReadonlySet<string> => {
    let f = features.get(id);
    if (!f) features.set(id, (f = standingOf(file, definition, id, today).features));
    return f;
  };
  const found: Someone[] = people.flatMap((p) => {
    const own = memberships.get(p.id) ?? [null];
    return own.map((m): Someone => {
      const row = m?.companyId ? companies.get(m.companyId) : undefined;
      const company = row ? { id: row.id, name: String(row.values.f_company_name ?? ""), values: row.values } : null;
      const status = String(p.values.f_person_status ?? "") as PersonStatus;
      const name = String(p.values.f_person_name ?? "");
      const person = { id: p.id, name, status: wanted.asActive ? ("active" as const) : status, values: p.values };
      const viewer = actingViewer(definition, { person, membership: m ?? undefined, company, now, mode: "see-as" }, featuresOf);
      return {
        viewer,
        personId: p.id,
        membershipId: m?.id ?? null,
        name,
        companyId: company?.id ?? null,
        company: company?.name ?? null,
        roles: m?.roles ?? [],
        status,
      };
    });
  });
  const order = new Intl.Collator("en-GB");
  found.sort((a, b) => order.compare(a.company ?? "", b.company ?? "") || order.compare(a.name, b.name));
  const visitor = visitorViewer(file, now);
  return [
    ...found,
    {
      viewer: visitor,
      personId: null,
      membershipId: null,
      name: "A visitor",
      companyId: null,
      company: null,
      roles: [],
      status: "visitor",
    },
  ];
}

/** Somebody new in each company for every role that nobody holds there, with nothing filled in about them yet. */
export function newcomers(
  file: PortalFile,
  definition: Definition,
  owner: Owner,
  now: number,
  isHeld: (role: string, company: string | null) => boolean,
): Someone[] {
  const today = dateIn(now, definition.portal.timeZone);
  const companies = [...everybody(file, owner).companies.values()].map((c) => ({
    facts: { id: c.id, name: String(c.values.f_company_name ?? ""), values: c.values },
    features: standingOf(file, definition, c.id, today).features,
  }));
  const person = { id: "", name: "", status: "active" as const, values: {} };
  return definition.roles
    .filter((r) => r.side !== "visitor")
    .flatMap((r) =>
      (r.side === "agency" ? [null] : companies.filter((c) => !r.companyId || r.companyId === c.facts.id))
        .filter((c) => !isHeld(r.id, c?.facts.id ?? null))
        .map((c): Someone => {
          const acting = { person, membership: { id: "", roles: [r.id] }, company: c?.facts ?? null, now, mode: "see-as" as const };
          return {
            viewer: actingViewer(definition, acting, () => c!.features),
            personId: null,
            membershipId: null,
            name: `Somebody new as ${r.name}`,
            companyId: c?.facts.id ?? null,
            company: c?.facts.name ?? null,
            roles: [r.id],
            status: "nobody yet",
          };
        }),
    );
}
