import { draftPolicy, type Policy } from "@/core/access/policy";
import { asSignedIn, type Viewer } from "@/core/access/who/viewer";
import type { Explanation } from "@/core/access/words/explain";
import { explanationSentences, grantSentence } from "@/core/access/words/wording";
import type { Definition } from "@/core/definition/definition";
import type { Table } from "@/core/schema/types";
import { draftOf } from "@/data/definition/draft";
import { actingOf } from "@/data/people/acting";
import { membershipsOf, personFacts } from "@/data/people/people";
import { explainTable } from "@/data/records/query/explain";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { viewerOf, visitorViewer } from "@/identity/viewers/viewer";
import { namesOf } from "@/office/names";

export interface Looked {
  readonly viewer: Viewer;
  readonly name: string;
  readonly as: string;
  readonly membershipId: string | null;
  /** Whether they have not been in yet: then it is what they will see. */
  readonly notInYet: boolean;
}

export function lookAs(p: OfficePortal, personId: string | undefined, membershipId: string | undefined): Looked | null {
  if (personId === "visitor")
    return { viewer: visitorViewer(p.file, p.now), name: "A visitor", membershipId: null, as: "not signed in", notInYet: false };
  const person = personId ? personFacts(p.file, personId) : undefined;
  const acting = person && actingOf(p.file, person.id);
  if (!person || !acting) return null;
  const viewer = viewerOf(p.file, { ...acting, person: asSignedIn(acting.person) }, membershipId ?? null, p.now, "see-as");
  const m = membershipsOf(p.file, person.id).find((x) => x.id === viewer.membershipId);
  const roles = (m?.roles ?? []).map((r) => p.live.policy.role(r)?.name ?? r).join(", ");
  return {
    viewer,
    name: person.name,
    membershipId: viewer.membershipId,
    notInYet: acting.person.status === "invited",
    as: m ? `${m.companyName ?? p.live.definition.portal.name}, ${roles}` : "no company",
  };
}

export const sentences = (p: OfficePortal, e: Explanation, policy: Policy = p.live.policy): { text: string; holds: boolean }[] =>
  explanationSentences(policy, e, namesOf(p));

export interface Adding {
  readonly may: boolean;
  /** Names of the fields that they may set on what they add. */
  readonly sets: readonly string[];
  /** The grants that let them, or why none does. */
  readonly because: readonly string[];
}

/** Whether somebody may add to a table. There is no record yet, so it is told of the table as a whole. */
export function addingTo(p: OfficePortal, policy: Policy, viewer: Viewer, table: Table): Adding {
  const e = explainTable({ file: p.file, policy, viewer: p.owner }, viewer, table.id, "add");
  const names = namesOf(p);
  if (e.outcome === "refused")
    return { may: false, sets: [], because: explanationSentences(policy, e, names).flatMap((s) => (s.holds ? [] : [s.text])) };
  const grants = e.steps.flatMap((s) => (s.step === "grant" && s.holds ? policy.rules.grants.filter((g) => g.id === s.grant) : []));
  return {
    may: true,
    sets: e.fields.map((f) => policy.schema.field(f).name),
    because: grants.map((g) => `${grantSentence(policy, g, names)}${g.filter ? " What is added must be so." : ""}`),
  };
}

/** The version that an address asks for; the draft only where there is one. */
export function lookedAt(p: OfficePortal, of: string | undefined): { which: "live" | "draft"; policy: Policy; definition: Definition } {
  const draft = of === "draft" ? draftOf(p.file, p.owner) : null;
  return draft?.changed
    ? { which: "draft", policy: draftPolicy(p.live.policy, draft.definition), definition: draft.definition }
    : { which: "live", policy: p.live.policy, definition: p.live.definition };
}
