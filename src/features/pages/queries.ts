/** What the editor of pages knows: the draft's pages, what they are made of, and what keeps a section from showing. */

import { draftPolicy, type Policy } from "@/core/access/policy";
import type { Definition } from "@/core/definition/definition";
import { type AllPages, allPagesOf } from "@/core/pages/all-pages";
import type { Page } from "@/core/pages/page";
import { aroundOf, sectionProblems } from "@/core/pages/problems";
import { readyPages } from "@/core/pages/ready";
import type { FieldType, Schema, Table } from "@/core/schema/types";
import { readsOf } from "@/core/sections";
import { draftOf } from "@/data/definition/draft";
import { peopleNamed } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { alsoHere } from "@/office/presence";

export interface PagesView {
  readonly definition: Definition;
  readonly revision: number;
  readonly policy: Policy;
  readonly schema: Schema;
  readonly book: AllPages;
}

/** The pages of the draft, unless another state is asked for. */
export function pagesView(p: OfficePortal, of?: Definition): PagesView {
  const draft = of ? { definition: of, revision: 0 } : draftOf(p.file, p.owner);
  const { schema } = p.live.policy;
  return {
    definition: draft.definition,
    revision: draft.revision,
    policy: draftPolicy(p.live.policy, draft.definition),
    schema,
    book: allPagesOf(draft.definition, schema),
  };
}

/** Ready-made pages that were thrown away and whose table is open: offered again. */
export const offered = (v: PagesView): Page[] => {
  const thrown = new Set(v.definition.thrown.map((t) => t.id));
  return readyPages(v.schema, v.definition).flatMap((l) => (thrown.has(l.page.id) ? [l.page] : []));
};

/** Roles for whom the page is, as far as it says so by itself. */
export function forWhom(v: PagesView, page: Page): string {
  const { states, roles, feature } = page.audience;
  const words = { out: "signed out", in: "signed in", waiting: "waiting for approval", unpaid: "must pay" };
  const parts = [
    states.map((s) => words[s]).join(" or "),
    roles.map((r) => v.policy.role(r)?.name ?? "a role that is gone").join(", "),
    feature ? `with ${v.definition.features.find((f) => f.id === feature)?.name ?? "a feature that is gone"}` : "",
  ].filter(Boolean);
  return parts.join("; ") || "Everybody";
}

/** Roles whose grants show something that the page lists. */
export function rolesThatSee(v: PagesView, page: Page): string[] {
  const tables = new Set(
    v.book.sections(page.id).flatMap((s) => {
      const reads = readsOf(s);
      return reads?.doing === "see" ? [reads.table] : [];
    }),
  );
  if (page.about) tables.add(page.about);
  if (tables.size === 0) return [];
  const named = page.audience.roles;
  return v.definition.roles
    .filter((role) => {
      const all = v.policy.closure(role.id);
      if (named.length > 0 && !named.some((n) => all.has(n))) return false;
      return v.definition.grants.some((g) => tables.has(g.table) && g.actions.includes("see") && g.roles.some((x) => all.has(x)));
    })
    .map((r) => r.name);
}

export const problemsOf = (v: PagesView, page: Page): Map<string, string[]> => {
  const around = aroundOf(page, v.book, v.definition.acts, v.schema);
  return new Map(v.book.sections(page.id).map((s) => [s.id, sectionProblems(s, around)]));
};

export interface OfferedField {
  readonly id: string;
  readonly name: string;
  readonly type: FieldType;
  readonly target: string | null;
  readonly choices: readonly { readonly id: string; readonly name: string }[];
}

/** A table as the settings of sections offer it. */
export interface OfferedTable {
  readonly id: string;
  readonly name: string;
  readonly singular: string;
  readonly fields: readonly OfferedField[];
}
export const offeredTable = (t: Table): OfferedTable => ({
  id: t.id,
  name: t.name,
  singular: t.singular,
  fields: t.fields.map((f) => ({
    id: f.id,
    name: f.name,
    type: f.type,
    target: f.options.target ?? null,
    choices: (f.options.choices ?? []).map((c) => ({ id: c.id, name: c.name })),
  })),
});

/** Whom a page is looked at as: "visitor", or a person and the membership they act in. */
export function whoFrom(as: string | readonly string[] | undefined): { personId: string; membershipId: string | null } {
  const [personId = "visitor", membershipId] = ((typeof as === "string" ? as : as?.[0]) ?? "visitor").slice(0, 200).split(" ");
  return { personId, membershipId: membershipId || null };
}

/** Somebody of a client company who can be in, or a visitor where there is nobody yet. */
export function whoIsFirst(p: OfficePortal): string {
  const { people } = peopleNamed(p.file, p.owner, "");
  const first =
    people.find((x) => x.status === "active" && x.company !== "" && x.membershipId) ?? people.find((x) => x.status === "active");
  return first ? `${first.personId} ${first.membershipId ?? ""}`.trim() : "visitor";
}

/** Others who have the page open at the same time, in a sentence. */
export function othersAtWork(p: OfficePortal, page: string): string | null {
  const names = alsoHere(p, `page ${page}`);
  if (names.length === 0) return null;
  return `${names.join(" and ")} ${names.length > 1 ? "have" : "has"} this page open, too. Who changes the same thing later is told, and nothing is lost.`;
}
