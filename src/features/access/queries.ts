/** The draft's roles, walls and grants for its owner, in sentences and in what the editors need. */
import { testsOf } from "@/core/access/condition";
import { type Grant, Policy, type Wall } from "@/core/access/policy";
import { SELF } from "@/core/access/resolve";
import { conditionWords, grantSentence, type Names, wallSentence } from "@/core/access/wording";
import type { Definition } from "@/core/definition";
import { operatorsFor, operatorWords, takesNoValue } from "@/core/schema/operators";
import { type Field, type FieldType, isRelation, type Schema, type Table } from "@/core/schema/types";
import { draftOf } from "@/data/definitions";
import { companyFacts } from "@/data/people";
import { readRecord } from "@/data/records/read";
import type { OfficePortal } from "@/identity/office-gate";
import type { GrantInput } from "./actions";

export interface AccessView {
  readonly definition: Definition;
  readonly revision: number;
  readonly policy: Policy;
  readonly schema: Schema;
  readonly names: Names;
}

export function accessView(p: OfficePortal): AccessView {
  const draft = draftOf(p.file, p.owner);
  const { schema } = p.live.policy;
  const names: Names = {
    company: (id) => companyFacts(p.file, id)?.name,
    record: (table, id) =>
      String(readRecord(p.file, p.live.policy, p.owner, table, id)?.fields[schema.table(table).labelFieldId] ?? "another record"),
    feature: (id) => draft.definition.features.find((f) => f.id === id)?.name,
  };
  return { definition: draft.definition, revision: draft.revision, policy: new Policy(schema, draft.definition), schema, names };
}

export const grantLine = (v: AccessView, g: Grant): string => grantSentence(v.policy, g, v.names);

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
  const ways: string[][] = [];
  const walk = (at: Table, path: string[]): void => {
    if (path.length >= 4) return;
    for (const f of at.fields.filter((x) => x.type === "relation")) {
      if (f.options.target === schema.companies.id) ways.push([...path, f.id]);
      else if (!path.includes(f.id) && f.options.target !== schema.people.id) walk(schema.table(f.options.target!), [...path, f.id]);
    }
  };
  if (table.kind === "companies") ways.push([]);
  else if (table.kind === "people") ways.push(["f_person_companies"]);
  else walk(table, []);
  const walls: Wall[] = [
    ...ways.sort((a, b) => a.length - b.length).map((path): Wall => ({ kind: "owned", path })),
    { kind: "shared" },
    { kind: "agency-only" },
  ];
  return walls.map((wall) => ({ wall, words: wallSentence(schema, table.id, wall) }));
}

export interface PathChoice {
  readonly path: string[];
  readonly words: string;
  readonly type: FieldType;
  readonly choices: string[];
  readonly operators: { id: string; words: string; noValue: boolean }[];
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
            .table(last.options.target!)
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
    choices: [],
    operators: (["any-of", "none-of"] as const).map((id) => ({ id, words: operatorWords(id, "relation"), noValue: false })),
    person: viewerFields(schema, schema.people, table.id, table.id === schema.people.id),
    company: viewerFields(schema, schema.companies, table.id, table.id === schema.companies.id),
  };
  const paths = found.slice(0, MOST_PATHS).sort((a, b) => a.length - b.length || leads(a) - leads(b));
  return [...paths.map((path) => choiceOf(schema, path)), ...(own.person.length + own.company.length > 0 ? [own] : [])];
}

function choiceOf(schema: Schema, path: Field[]): PathChoice {
  const last = path[path.length - 1]!;
  const { target } = last.options;
  return {
    path: path.map((f) => f.id),
    words: path.map((f) => f.name).join(" › "),
    type: last.type,
    choices: last.options.choices ?? [],
    operators: operatorsFor(last.type).map((id) => ({ id, words: operatorWords(id, last.type), noValue: takesNoValue(id) })),
    person: target ? viewerFields(schema, schema.people, target, target === schema.people.id) : sameType(schema.people, last),
    company: target ? viewerFields(schema, schema.companies, target, target === schema.companies.id) : sameType(schema.companies, last),
  };
}

function viewerFields(_: Schema, of: Table, target: string, itself: boolean): { id: string | null; words: string }[] {
  const fields = of.fields.filter((f) => f.options.target === target).map((f) => ({ id: f.id, words: f.name }));
  return itself ? [{ id: null, words: of.kind === "people" ? "themselves" : "itself" }, ...fields] : fields;
}
const sameType = (of: Table, f: Field): { id: string | null; words: string }[] =>
  of.fields.filter((x) => x.type === f.type && !x.options.target).map((x) => ({ id: x.id, words: x.name }));

/** A grant's filter as rows of the editor, or null where it is deeper than one level of all-of tests. */
export function editableTests(g: Grant | null): GrantInput["tests"] | null {
  if (!g?.filter) return [];
  const { filter } = g;
  const flat = filter.kind === "test" || (filter.kind === "all" && filter.of.every((c) => c.kind === "test"));
  if (!flat) return null;
  const tests = testsOf(filter);
  if (
    tests.some(
      (t) =>
        t.operands.some((o) => o.kind === "date" && o.anchor !== "today") ||
        (t.operator === "between" && t.operands.some((o) => o.kind !== "literal")),
    )
  )
    return null;
  return tests.map((t) => {
    const [first] = t.operands;
    const literal = t.operands
      .map((o) => (o.kind === "literal" ? (Array.isArray(o.value) ? o.value.join(";") : String(o.value)) : ""))
      .join(";");
    return {
      path: t.path,
      operator: t.operator,
      from: first?.kind === "viewer" ? first.of : first?.kind === "date" ? ("date" as const) : ("literal" as const),
      field: first?.kind === "viewer" ? first.field : null,
      value: first?.kind === "date" ? String(first.days) : literal,
    };
  });
}

export const filterWords = (v: AccessView, g: Grant): string => conditionWords(v.schema, g.filter, v.names);

/** What a draft changes, one sentence each. */
export function draftChanges(
  v: AccessView,
  live: Definition,
): { added: string[]; removed: string[]; changed: { before: string; after: string }[]; walls: string[] } {
  const before = new Policy(v.schema, live);
  const was = new Map(live.grants.map((g) => [g.id, g]));
  const is = new Map(v.definition.grants.map((g) => [g.id, g]));
  const line = (p: Policy, g: Grant): string => `${grantSentence(p, g, v.names)} ${fieldWords({ ...v, policy: p }, g)}`;
  return {
    added: v.definition.grants.filter((g) => !was.has(g.id)).map((g) => line(v.policy, g)),
    removed: live.grants.filter((g) => !is.has(g.id)).map((g) => line(before, g)),
    changed: v.definition.grants
      .filter((g) => was.has(g.id) && JSON.stringify(was.get(g.id)) !== JSON.stringify(g))
      .map((g) => ({ before: line(before, was.get(g.id)!), after: line(v.policy, g) })),
    walls: Object.entries(v.definition.walls)
      .filter(([t, w]) => v.schema.findTable(t) && JSON.stringify(live.walls[t]) !== JSON.stringify(w))
      .map(([t, w]) => wallSentence(v.schema, t, w)),
  };
}
