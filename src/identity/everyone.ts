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
  readonly status: PersonStatus | "visitor";
}

/** By company, then by name; the agency's own people and those without a company first, visitors last. */
export function everyone(file: PortalFile, definition: Definition, owner: Owner, now: number): Someone[] {
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
      const person = { id: p.id, name, status, values: p.values };
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
