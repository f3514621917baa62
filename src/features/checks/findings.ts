import { draftPolicy } from "@/core/access/policy";
import { operandValue } from "@/core/access/resolve";
import { activeRoles } from "@/core/access/scope";
import type { Right } from "@/core/access/who/office";
import type { Definition } from "@/core/definition/definition";
import { type Finding, findings, type Place } from "@/core/review/findings";
import { testsOf } from "@/core/schema/condition";
import { isEmpty } from "@/core/schema/types";
import { Background, type Outcome, type Pace, stampOf } from "@/data/definition/background";
import { draftOf } from "@/data/definition/draft";
import { once } from "@/data/file/per-process";
import { tallyWhole } from "@/data/records/counting/tally";
import { sharedNames } from "@/data/tables/company-names";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { everyone, type Someone } from "@/identity/viewers/crowd";
import { namesOf } from "@/office/names";

const reports = once("findings reports", () => new Background<Finding[]>());

/** Findings in the draft where there is one: that is where they are mended. */
export function findingsOf(p: OfficePortal): Promise<Outcome<Finding[]>> {
  const { definition, revision } = draftOf(p.file, p.owner);
  return reports.soon(p.file, "findings", stampOf(p.file, p.live, revision, p.now), (pace) => work(p, definition, revision, pace));
}

async function work(p: OfficePortal, definition: Definition, revision: number, pace: Pace): Promise<Finding[]> {
  const policy = draftPolicy(p.live.policy, definition);
  const people = everyone(p.file, definition, p.owner, p.now).filter((s) => s.personId);
  const holders = new Map<string, number>();
  const valueless = new Map<string, { people: number; without: number }>();
  for (const s of people) {
    const roles = activeRoles(policy, s.viewer);
    for (const r of roles) holders.set(r, (holders.get(r) ?? 0) + 1);
    if (!counts(s)) continue;
    for (const g of definition.grants) {
      const asked = testsOf(g.filter).flatMap((t) => t.operands.filter((o) => o.kind === "viewer"));
      if (asked.length === 0 || !g.roles.some((r) => roles.has(r))) continue;
      const n = valueless.get(g.id) ?? { people: 0, without: 0 };
      n.people++;
      if (asked.some((o) => isEmpty(operandValue(o, s.viewer)))) n.without++;
      valueless.set(g.id, n);
    }
  }
  const adrift = people.filter((s) => counts(s) && !s.membershipId).map((s) => ({ id: s.personId!, name: s.name }));
  return findings(
    policy,
    definition,
    { ...(await tallyWhole(pace, p.file, p.live, policy, p.owner, revision)), holders, valueless, adrift, alike: sharedNames(p.file) },
    namesOf(p),
  );
}

/** Whoever is in, and whoever will be. */
const counts = (s: Someone): boolean => s.status === "active" || s.status === "invited";

/** What whoever mends it there must be let to do. */
export const rightFor = (place: Place): Right =>
  place.at === "records" || place.at === "company" ? "records" : place.at === "person" ? "people" : "build";

export function placeHref(p: OfficePortal, place: Place): string {
  switch (place.at) {
    case "grant":
      return `${p.at}/access/grants/${place.id}`;
    case "wall":
      return `${p.at}/access#t-${place.table}`;
    case "records":
      return `${p.at}/data/${p.live.policy.schema.table(place.table).slug}?belongs=nobody`;
    case "field":
      return `${p.at}/data/${place.table}/shape/${place.field}`;
    case "roles":
      return `${p.at}/access#roles`;
    case "company":
      return `${p.at}/data/${p.live.policy.schema.companies.slug}?${new URLSearchParams({ q: place.name })}`;
    case "person":
      return `${p.at}/people/${place.id}`;
  }
}
