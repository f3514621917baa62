import type { Explanation } from "@/core/access/explain";
import { draftPolicy, type Policy } from "@/core/access/policy";
import type { Viewer } from "@/core/access/viewer";
import { explanationSentences, type Names } from "@/core/access/wording";
import type { Definition } from "@/core/definition";
import { draftOf } from "@/data/definitions";
import { companyFacts, membershipsOf, personFacts } from "@/data/people";
import { readRecord } from "@/data/records/read";
import type { OfficePortal } from "@/identity/office-gate";
import { personViewer, visitorViewer } from "@/identity/viewer";

export interface Looked {
  readonly viewer: Viewer;
  readonly name: string;
  readonly as: string;
  readonly membershipId: string | null;
}

export function lookAs(p: OfficePortal, personId: string | undefined, membershipId: string | undefined): Looked | null {
  if (personId === "visitor")
    return { viewer: visitorViewer(p.file, Date.now()), name: "A visitor", membershipId: null, as: "not signed in" };
  const person = personId ? personFacts(p.file, personId) : undefined;
  const viewer = person && personViewer(p.file, person.id, membershipId ?? null, Date.now(), "see-as");
  if (!person || !viewer) return null;
  const m = membershipsOf(p.file, person.id).find((x) => x.id === viewer.membershipId);
  const roles = (m?.roles ?? []).map((r) => p.live.policy.role(r)?.name ?? r).join(", ");
  return {
    viewer,
    name: person.name,
    membershipId: viewer.membershipId,
    as: m ? `${m.companyName ?? p.live.definition.portal.name}, ${roles}` : "no company",
  };
}

export const namesOf = (p: OfficePortal): Names => ({
  company: (id) => companyFacts(p.file, id)?.name,
  record: (table, id) =>
    String(
      readRecord(p.file, p.live.policy, p.owner, table, id)?.fields[p.live.policy.schema.table(table).labelFieldId] ?? "another record",
    ),
  feature: (id) => p.live.definition.features.find((f) => f.id === id)?.name,
});

export const sentences = (p: OfficePortal, e: Explanation, policy: Policy = p.live.policy): { text: string; holds: boolean }[] =>
  explanationSentences(policy, e, namesOf(p));

/** The version that an address asks for; the draft only where there is one. */
export function lookedAt(p: OfficePortal, of: string | undefined): { which: "live" | "draft"; policy: Policy; definition: Definition } {
  const draft = of === "draft" ? draftOf(p.file, p.owner) : null;
  return draft?.changed
    ? { which: "draft", policy: draftPolicy(p.live.policy, draft.definition), definition: draft.definition }
    : { which: "live", policy: p.live.policy, definition: p.live.definition };
}
