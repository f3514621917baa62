/** What a filter may test: a table's own fields and those that its relations lead to, each with what it may be compared with. */

import { SELF } from "@/core/schema/condition";
import { isRelation } from "@/core/schema/fields/natures";
import { type Operator, takesNoValue } from "@/core/schema/operators";
import { type Choice, type Field, type FieldType, operatorsFor, operatorWords, type Schema, type Table } from "@/core/schema/types";

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
  /** Whether it leads to records that may be bought one by one. */
  readonly bought: boolean;
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
    bought: table.kind === "ordinary",
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
    bought: target !== undefined && schema.table(target).kind === "ordinary",
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
