/** The draft's roles, walls and grants for its owner, in sentences and in what the editors need. */

import { draftPolicy, Policy } from "@/core/access/policy";
import type { Grant, Wall } from "@/core/access/rules";
import type { Safeguard } from "@/core/access/safeguards";
import { safeguardSentence } from "@/core/access/words/safeguard-words";
import { grantSentence, wallSentence } from "@/core/access/words/wording";
import { actChanges, planChanges } from "@/core/billing/changes";
import type { Definition } from "@/core/definition/definition";
import { brandChanges, type PageChange, pageChanges } from "@/core/editing/changes";
import type { Schema, Table } from "@/core/schema/types";
import { waysToCompanies } from "@/core/schema/ways";
import { formatMoney } from "@/core/text/format";
import type { Outcome } from "@/data/definition/background";
import { draftOf } from "@/data/definition/draft";
import { personFacts } from "@/data/people/people";
import { type Tally, tallySoon } from "@/data/records/counting/tally";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { everyone } from "@/identity/viewers/crowd";
import { type AccessView, safeguardNames } from "@/office/checking";
import { namesOf } from "@/office/names";

/** The draft's rules beside the live ones, with what the office needs to say them. */
export function accessView(p: OfficePortal): AccessView {
  const draft = draftOf(p.file, p.owner);
  const { schema } = p.live.policy;
  return {
    definition: draft.definition,
    revision: draft.revision,
    // The company stored in a row is the published wall's; where the draft moves a wall, its path is followed instead.
    policy: draftPolicy(p.live.policy, draft.definition),
    schema,
    names: namesOf(p, draft.definition),
    person: (id) => personFacts(p.file, id)?.name,
  };
}

export const grantLine = (v: AccessView, g: Grant): string => grantSentence(v.policy, g, v.names);

/** How many records the draft's rules open, where it is counted, or how far the counting is. */
export const tallyOf = (p: OfficePortal, v: AccessView): Promise<Outcome<Tally>> =>
  tallySoon(p.file, p.live, v.policy, p.owner, v.revision);

/** How many records a grant's filter opens now, walls aside: what each company sees of them is its own. */
export function opensWords(v: AccessView, counted: Tally): (grant: string) => string {
  const n = new Intl.NumberFormat(v.definition.portal.locale);
  return (id) => {
    const g = v.definition.grants.find((x) => x.id === id);
    const all = g && counted.records.get(g.table)?.all;
    if (!g || all === undefined || v.policy.broken.has(id)) return "";
    // Clients never see over the wall: what is counted here is what all of them see together.
    const walled = v.policy.wall(g.table).kind === "owned" && g.roles.every((r) => v.policy.role(r)?.side === "client");
    const each = walled ? ", to each company its own" : "";
    if (!g.filter) return `Opens all ${n.format(all)}${each}.`;
    const matches = counted.matches.get(id);
    if (matches === undefined) return `Opens as many of ${n.format(all)} as are theirs.`;
    return `Opens ${n.format(matches)} of ${n.format(all)}${each}.`;
  };
}

/** What of a table the grant leaves out, in a few words. */
export function fieldWords(v: AccessView, g: Grant): string {
  const table = v.schema.findTable(g.table);
  if (!table) return "";
  const hidden = table.fields.filter((f) => !g.fields.includes(f.id));
  if (hidden.length === 0) return "All fields.";
  const shown = table.fields.filter((f) => g.fields.includes(f.id));
  return hidden.length <= shown.length
    ? `All fields but ${hidden.map((f) => f.name).join(", ")}.`
    : `Only ${shown.map((f) => f.name).join(", ") || "no field at all"}.`;
}

export const changeWords = (v: AccessView, g: Grant): string => {
  const set = v.schema.findTable(g.table)?.fields.filter((f) => g.changes.includes(f.id)) ?? [];
  return set.length > 0 && (g.actions.includes("add") || g.actions.includes("change"))
    ? `May set ${set.map((f) => f.name).join(", ")}.`
    : "";
};

/** Walls that a table could have: every way of to-one relations to a company, then shared and agency-only. */
export function wallChoices(schema: Schema, table: Table): { wall: Wall; words: string }[] {
  const walls: Wall[] = [
    ...waysToCompanies(schema, table).map((path): Wall => ({ kind: "owned", path })),
    { kind: "shared" },
    { kind: "agency-only" },
  ];
  return walls.map((wall) => ({ wall, words: wallSentence(schema, table.id, wall) }));
}

/** People to count a filter for: those who hold one of the roles first. */
export function peopleToCountFor(p: OfficePortal, roles: readonly string[]): { as: string; name: string; company: string }[] {
  const people = everyone(p.file, p.live.definition, p.owner, p.now).filter((s) => s.personId && s.membershipId && s.status === "active");
  const holds = (s: (typeof people)[number]): boolean =>
    s.roles.some((r) => roles.includes(r) || [...p.live.policy.closure(r)].some((x) => roles.includes(x)));
  return [...people.filter(holds), ...people.filter((s) => !holds(s))]
    .slice(0, MOST_PEOPLE)
    .map((s) => ({ as: `${s.personId} ${s.membershipId}`, name: s.name, company: s.company ?? p.live.definition.portal.name }));
}

/** More than anybody scrolls through; those who hold the roles come first. */
const MOST_PEOPLE = 300;

export interface Changes {
  readonly roles: readonly string[];
  readonly added: readonly string[];
  readonly removed: readonly string[];
  readonly changed: readonly { readonly before: string; readonly after: string }[];
  readonly walls: readonly string[];
  readonly safeguards: readonly string[];
  readonly pages: readonly PageChange[];
  readonly brand: readonly string[];
  readonly acts: readonly string[];
  readonly plans: readonly string[];
}

function roleChanges(before: Definition, after: Definition): string[] {
  const was = new Map(before.roles.map((r) => [r.id, r]));
  const is = new Map(after.roles.map((r) => [r.id, r]));
  const names = (ids: readonly string[]): string => ids.map((id) => is.get(id)?.name ?? was.get(id)?.name ?? id).join(", ");
  const of = (id: string, r: Definition["roles"][number]): string[] => {
    const old = was.get(id);
    if (!old) return [`${r.name} is a new role${r.includes.length > 0 ? `, with all that ${names(r.includes)} has` : ""}.`];
    const [more, less] = [r.includes.filter((x) => !old.includes.includes(x)), old.includes.filter((x) => !r.includes.includes(x))];
    return [
      ...(old.name === r.name ? [] : [`${old.name} is called ${r.name}.`]),
      ...(more.length > 0 ? [`${r.name} has all that ${names(more)} has.`] : []),
      ...(less.length > 0 ? [`${r.name} no longer has what ${names(less)} has.`] : []),
      ...((old.companyId ?? null) === (r.companyId ?? null)
        ? []
        : [`${r.name} counts in ${r.companyId ? "one company alone" : "every company"}.`]),
    ];
  };
  return [...after.roles.flatMap((r) => of(r.id, r)), ...before.roles.filter((r) => !is.has(r.id)).map((r) => `${r.name} is retired.`)];
}

/** What differs between two published versions. */
export const versionChanges = (v: AccessView, before: Definition, after: Definition): Changes =>
  draftChanges({ ...v, definition: after, policy: new Policy(v.schema, after) }, before);

function safeguardChanges(v: AccessView, live: Definition): string[] {
  const gone = live.safeguards.filter((s) => !v.definition.safeguards.some((x) => x.id === s.id));
  const come = v.definition.safeguards.filter((s) => !live.safeguards.some((x) => x.id === s.id));
  const line = (s: Safeguard): string => safeguardSentence(s, safeguardNames(v), v.definition.portal.locale);
  return [...gone.map((s) => `Withdrawn: ${line(s)}`), ...come.map((s) => `New: ${line(s)}`)];
}

/** What a draft changes, one sentence each. */
export function draftChanges(v: AccessView, live: Definition): Changes {
  const before = new Policy(v.schema, live);
  const was = new Map(live.grants.map((g) => [g.id, g]));
  const is = new Map(v.definition.grants.map((g) => [g.id, g]));
  const line = (p: Policy, g: Grant): string => `${grantSentence(p, g, v.names)} ${fieldWords({ ...v, policy: p }, g)}`;
  return {
    roles: roleChanges(live, v.definition),
    added: v.definition.grants.filter((g) => !was.has(g.id)).map((g) => line(v.policy, g)),
    removed: live.grants.filter((g) => !is.has(g.id)).map((g) => line(before, g)),
    changed: v.definition.grants
      .filter((g) => was.has(g.id) && JSON.stringify(was.get(g.id)) !== JSON.stringify(g))
      .map((g) => ({ before: line(before, was.get(g.id)!), after: line(v.policy, g) })),
    walls: Object.entries(v.definition.walls)
      .filter(([t, w]) => v.schema.findTable(t) && JSON.stringify(live.walls[t]) !== JSON.stringify(w))
      .map(([t, w]) => wallSentence(v.schema, t, w)),
    safeguards: safeguardChanges(v, live),
    pages: pageChanges(live, v.definition, v.schema),
    brand: brandChanges(live, v.definition),
    acts: actChanges(live, v.definition),
    plans: planChanges(live, v.definition, (n) => formatMoney(n, v.definition.portal.currency, v.definition.portal.locale)),
  };
}
