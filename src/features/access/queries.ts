/** The draft's roles, walls and grants for its owner, in sentences and in what the editors need. */

import { SELF } from "@/core/access/condition";
import { draftPolicy, Policy } from "@/core/access/policy";
import type { Grant, Wall } from "@/core/access/rules";
import { type SafeguardNames, safeguardSentence } from "@/core/access/safeguard-words";
import type { Safeguard } from "@/core/access/safeguards";
import { grantSentence, type Names, wallSentence } from "@/core/access/wording";
import type { Definition } from "@/core/definition/definition";
import { type Operator, takesNoValue } from "@/core/schema/operators";
import {
  type Choice,
  type Field,
  type FieldType,
  isRelation,
  operatorsFor,
  operatorWords,
  type Schema,
  type Table,
} from "@/core/schema/types";
import { waysToCompanies } from "@/core/schema/ways";
import { draftOf } from "@/data/definition/draft";
import type { Outcome } from "@/data/jobs/background";
import { personFacts } from "@/data/people/people";
import { type Tally, tallySoon } from "@/data/records/query/tally";
import { everyone } from "@/identity/crowd";
import type { OfficePortal } from "@/identity/office-gate";
import { namesOf } from "@/office/names";

export interface AccessView {
  readonly definition: Definition;
  readonly revision: number;
  readonly policy: Policy;
  readonly schema: Schema;
  readonly names: Names;
  person(id: string): string | undefined;
}

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

export interface PathChoice {
  readonly path: string[];
  readonly words: string;
  readonly type: FieldType;
  /** Where it stands in the list: leading to people or companies, a field of the table itself, or further away. */
  readonly group: "people" | "own" | "far";
  /** For relations: the table whose records can be named. */
  readonly target: string | null;
  readonly choices: readonly Choice[];
  readonly operators: { id: Operator; words: string; noValue: boolean }[];
  /** Fields of a person or company whose values can be compared with it; null is the person or company itself. */
  readonly person: { id: string | null; words: string }[];
  readonly company: { id: string | null; words: string }[];
}

const MOST_PATHS = 300;

/** Paths that lead to people or companies come first: they are what filters are mostly about. */
export function pathChoices(schema: Schema, table: Table): PathChoice[] {
  const found: Field[][] = [];
  let layer: Field[][] = table.fields.map((f) => [f]);
  for (let hops = 0; hops <= 3 && found.length < MOST_PATHS; hops++) {
    found.push(...layer);
    layer = layer.flatMap((path) => {
      const last = path[path.length - 1]!;
      return isRelation(last) && hops < 3
        ? schema
            .table(last.options.target)
            .fields.filter((f) => !path.includes(f))
            .map((f) => [...path, f])
        : [];
    });
  }
  const leads = (path: Field[]): number => {
    const target = path[path.length - 1]!.options.target;
    return target === schema.people.id || target === schema.companies.id ? 0 : target ? 1 : 2;
  };
  const own: PathChoice = {
    path: [SELF],
    words: `The ${table.singular.toLowerCase()} itself`,
    type: "relation",
    group: "people",
    target: table.id,
    choices: [],
    operators: (["is", "is-not", "any-of", "none-of"] as const).map((id) => ({ id, words: operatorWords(id, "relation"), noValue: false })),
    person: viewerFields(schema, schema.people, table.id, table.id === schema.people.id),
    company: viewerFields(schema, schema.companies, table.id, table.id === schema.companies.id),
  };
  const paths = found.slice(0, MOST_PATHS).sort((a, b) => a.length - b.length || leads(a) - leads(b));
  return [...paths.map((path) => choiceOf(schema, path)), own];
}

/** True where no relation leads from the table to a person or a company: nothing in it can be anybody's. */
export const leadsNowhere = (paths: readonly PathChoice[], table: Table): boolean =>
  table.kind === "ordinary" && !paths.some((p) => p.group === "people" && p.target !== table.id);

function choiceOf(schema: Schema, path: Field[]): PathChoice {
  const last = path[path.length - 1]!;
  const { target } = last.options;
  return {
    path: path.map((f) => f.id),
    words: path.map((f) => f.name).join(" › "),
    type: last.type,
    group: target === schema.people.id || target === schema.companies.id ? "people" : path.length === 1 ? "own" : "far",
    target: target ?? null,
    choices: last.options.choices ?? [],
    operators: operatorsFor(last.type).map((id) => ({ id, words: operatorWords(id, last.type), noValue: takesNoValue(id) })),
    person: target ? viewerFields(schema, schema.people, target, target === schema.people.id) : sameType(schema.people, last),
    company: target ? viewerFields(schema, schema.companies, target, target === schema.companies.id) : sameType(schema.companies, last),
  };
}

function viewerFields(_: Schema, of: Table, target: string, itself: boolean): { id: string | null; words: string }[] {
  const fields = of.fields.filter((f) => f.options.target === target).map((f) => ({ id: f.id, words: ofTheirs(of, f) }));
  return itself ? [{ id: null, words: of.kind === "people" ? "the person who looks" : "their company" }, ...fields] : fields;
}
const sameType = (of: Table, f: Field): { id: string | null; words: string }[] =>
  of.fields.filter((x) => x.type === f.type && !x.options.target).map((x) => ({ id: x.id, words: ofTheirs(of, x) }));
const ofTheirs = (of: Table, f: Field): string =>
  of.kind === "people" ? `${f.name} of the person who looks` : `${f.name} of their company`;

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

export const safeguardNames = (v: AccessView): SafeguardNames => ({
  role: (id) => v.definition.roles.find((r) => r.id === id)?.name,
  company: v.names.company,
  person: v.person,
  table: (id) => v.schema.findTable(id)?.name,
  field: (id) => v.schema.findField(id)?.name,
  ways: (id) => {
    const table = v.schema.findTable(id);
    return table ? waysToCompanies(v.schema, table).length : 0;
  },
});

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
  };
}
