/** What an import is to do: into which table, where each column goes, by what records are known again, whose they are. */

import { z } from "zod";
import { hasChoices, isCounted, isRelation, pointsToSeveral } from "../schema/fields/natures";
import { MOST_DECIMALS } from "../schema/fields/number";
import { FIELD_TYPES, type Field, kindOf, type Schema, type Table } from "../schema/types";
import { STARTERS } from "./starters";

export const MOST_BYTES = 50 * 1024 * 1024;
export const MOST_COLUMNS = 200;

/** Types of one value: what a column of a file can become. */
export const IMPORTABLE = FIELD_TYPES.filter((type) => kindOf({ type }).importable);

const at = z.int().min(0).max(MOST_COLUMNS);

/** How the cells of a column are read. */
const reading = {
  order: z.enum(["iso", "day-first", "month-first"]).default("iso"),
  mark: z.enum([".", ","]).nullish(),
  /** Of a relation: the field of the table pointed to that the cells name a record by; its name where none is said. */
  by: z.string().nullish(),
  /** For a relation: missing records are made. For choices: unknown words become new choices. */
  add: z.boolean().optional(),
  /** What to take a text for that names nothing: the id of a record or a choice, by the text's folded form. */
  as: z.record(z.string(), z.string()).optional(),
};
const column = z.discriminatedUnion("to", [
  z.object({ to: z.literal("skip") }),
  z.object({ to: z.literal("field"), field: z.string(), ...reading }),
  z.object({
    to: z.literal("new"),
    name: z.string().trim().min(1, "Give the field a name.").max(80, "Keep the field's name under 80 characters."),
    type: z.enum(IMPORTABLE),
    target: z.string().optional(),
    choices: z.array(z.string()).max(200).optional(),
    decimals: z.int().min(0).max(MOST_DECIMALS).optional(),
    plain: z.boolean().optional(),
    /** ISO 4217. */
    currency: z.string().length(3).optional(),
    ...reading,
  }),
  /** For people: the column names the role that they have in their company. */
  z.object({ to: z.literal("role") }),
  /** Its words stand behind those of another column, with a space between: a surname behind a first name. */
  z.object({ to: z.literal("behind"), at }),
]);
export type PlanColumn = z.infer<typeof column>;
/** A column that fills a field of its own. */
export type FillingColumn = Extract<PlanColumn, { to: "field" | "new" }>;
/** Whether a column of the file comes into a field, one that is there or a new one. */
export const fills = (c: PlanColumn | undefined): c is FillingColumn => c?.to === "field" || c?.to === "new";

/** The columns that stand behind this one, in the order of the file. */
export const behind = (columns: readonly PlanColumn[], at: number): number[] =>
  columns.flatMap((c, i) => (c.to === "behind" && c.at === at ? [i] : []));

/** Words can stand behind words alone. `typeOf` tells the type of a field that is there. */
export const takesMore = (c: PlanColumn | undefined, typeOf: (field: string) => string | undefined): boolean =>
  fills(c) && ["text", "long-text"].includes((c.to === "new" ? c.type : typeOf(c.field)) ?? "");

export const importPlanSchema = z.object({
  /** An existing table's id, or a new table's name. */
  table: z.union([
    z.object({ id: z.string() }),
    z.object({ name: z.string().trim().min(1, "Give the table a name.").max(60, "Keep the table's name under 60 characters.") }),
  ]),
  columns: z.array(column).min(1).max(MOST_COLUMNS),
  /** The column that names the records of a new table. */
  title: at.nullable().default(null),
  /** The column by which records that are there are known again; null adds every row. */
  key: at.nullable().default(null),
  /** Rows of the file that have the same key: the later is refused, or its cells are put over the earlier's. */
  duplicates: z.enum(["refuse", "merge"]).default("refuse"),
  /** What an empty cell does to a record that is there. */
  empties: z.enum(["leave", "clear"]).default("leave"),
  /** Whom the records of a new table belong to; for people, their company. An existing table keeps its wall. */
  whose: z
    .discriminatedUnion("kind", [
      z.object({ kind: z.literal("column"), at }),
      z.object({ kind: z.literal("shared") }),
      z.object({ kind: z.literal("agency") }),
      z.object({ kind: z.literal("as-is") }),
    ])
    .default({ kind: "agency" }),
  /** Access that a new table begins with, as grants in the draft. */
  starters: z.array(z.enum(STARTERS)).max(STARTERS.length).default([]),
  /** For people: the role of rows without one. */
  role: z.string().nullable().default(null),
  /** ISO 4217: the currency of new money fields that name none. */
  currency: z.string().length(3),
});
export type ImportPlan = z.infer<typeof importPlanSchema>;

/** What stands before the columns in the file of rows with problems: mended, it is dropped again as it is. */
export const PROBLEM_COLUMNS = ["Line", "Column", "What is wrong"] as const;
/** How many columns of a file tell of problems, and are no part of its rows. */
export const problemColumns = (header: readonly string[]): number =>
  PROBLEM_COLUMNS.every((name, i) => header[i] === name) ? PROBLEM_COLUMNS.length : 0;

/** The same plan for a file that has so many columns more before the others. */
export function shifted(plan: ImportPlan, by: number): ImportPlan {
  const on = (at: number | null): number | null => (at === null ? null : at + by);
  return {
    ...plan,
    columns: [
      ...Array.from({ length: by }, (): PlanColumn => ({ to: "skip" })),
      ...plan.columns.map((c) => (c.to === "behind" ? { ...c, at: c.at + by } : c)),
    ],
    key: on(plan.key),
    title: on(plan.title),
    whose: plan.whose.kind === "column" ? { kind: "column", at: plan.whose.at + by } : plan.whose,
  };
}

/** Stands for the column where a problem is of no single one. */
export const WHOLE_ROW = "the whole row";
export interface RowProblem {
  readonly line: number;
  readonly column: string;
  readonly reason: string;
}

/** What a field of the table may be given by an import: what people set, and the identity of people themselves. */
export const takesImport = (table: Table, f: Field): boolean =>
  f.id === "f_person_email" || f.id === "f_person_companies" || isCounted(f) || (!f.system && table.fields.includes(f));

/** Fields by which a record can be known again. */
export const keyFields = (table: Table): Field[] =>
  table.fields.filter(
    (f) =>
      takesImport(table, f) &&
      (table.kind === "people"
        ? f.id === "f_person_email"
        : f.options.unique || f.id === table.labelFieldId || IDENTIFYING.includes(f.type)),
  );
const IDENTIFYING: readonly Field["type"][] = ["text", "number", "email", "serial", "readable-address"];

export interface PlanProblem {
  /** Index of the column; -1 is the plan as a whole. */
  readonly at: number;
  readonly message: string;
}

/** What is wrong with a plan for this file and schema. `roles` are those that may be given to people, by side. */
export function planProblems(
  plan: ImportPlan,
  header: readonly string[],
  schema: Schema,
  roles: readonly { id: string; side: string }[] = [],
): PlanProblem[] {
  const table = "id" in plan.table ? schema.findTable(plan.table.id) : null;
  if (table === undefined) return [{ at: -1, message: "Choose a table of this portal." }];
  if (plan.columns.length !== header.length) return [{ at: -1, message: "The mapping does not fit this file." }];
  const problems: PlanProblem[] = [];
  if (plan.columns.every((c) => c.to === "skip")) problems.push({ at: -1, message: "Every column is left out; choose at least one." });
  const named = "name" in plan.table ? schema.tableCalled(plan.table.name) : undefined;
  if (named)
    problems.push({ at: -1, message: `There is a table called ${named.name}. Choose it under “Into”, or call the new one otherwise.` });
  const used = new Set<string>();
  for (const [i, c] of plan.columns.entries()) {
    const problem = c.to === "behind" ? behindProblem(plan, c.at, header, schema) : columnProblem(c, table, schema, used);
    if (problem) problems.push({ at: i, message: problem });
  }
  problems.push(...ownerProblems(plan, table, schema), ...keyProblems(plan, table, schema));
  if (table?.kind === "people") problems.push(...peopleProblems(plan, roles));
  if (table?.kind === "books") problems.push({ at: 0, message: `${table.name} are written by Elkhorn, and by nobody else.` });
  return problems;
}

function behindProblem(plan: ImportPlan, at: number, header: readonly string[], schema: Schema): string | null {
  if (takesMore(plan.columns[at], (id) => schema.findField(id)?.type)) return null;
  return at < header.length ? `${header[at]} takes no words behind its own: it is left out, or no text.` : "Choose a column of this file.";
}

function columnProblem(c: Exclude<PlanColumn, { to: "behind" }>, table: Table | null, schema: Schema, used: Set<string>): string | null {
  if (c.to === "skip") return null;
  if (c.to === "role") return table?.kind === "people" ? null : "Only people have roles.";
  if (c.to === "new") {
    const name = c.name.toLowerCase();
    const there = used.has(name) || table?.fields.some((f) => f.name.toLowerCase() === name);
    used.add(name);
    if (there) return `Two fields are called ${c.name}.`;
    const target = isRelationType(c.type) ? schema.findTable(c.target ?? "") : undefined;
    if (isRelationType(c.type) && !target) return "Choose the table that it points to.";
    if (hasChoices(c) && !c.choices?.length)
      return "It holds more than 200 different words, or none: too many or too few to choose from. Make it text.";
    return byProblem(c.by, target);
  }
  const field = schema.findField(c.field);
  if (!field || !table || field.tableId !== table.id || !takesImport(table, field)) return "Choose a field of this table.";
  if (used.has(field.id)) return `Two columns go to ${field.name}.`;
  used.add(field.id);
  return byProblem(c.by, field.options.target ? schema.findTable(field.options.target) : undefined);
}

/** Whether a new column of this type points to records. */
export const isRelationType = (type: string): boolean => isRelation({ type });

const byProblem = (by: string | null | undefined, target: Table | undefined): string | null =>
  by && target && !target.fields.some((f) => f.id === by) ? `Choose a field of ${target.name} to look them up by.` : null;

function ownerProblems(plan: ImportPlan, table: Table | null, schema: Schema): PlanProblem[] {
  const { whose } = plan;
  if (whose.kind !== "column") return [];
  const c = plan.columns[whose.at];
  if (!fills(c)) return [{ at: whose.at, message: "The column that says whose they are is left out." }];
  const target = c.to === "new" ? c.target : schema.findField(c.field)?.options.target;
  if (!target || (c.to === "new" && !isRelationType(c.type)))
    return [
      { at: whose.at, message: "The column that says whose they are must point to Companies, or to a table whose records belong to one." },
    ];
  return c.to === "new" && pointsToSeveral(c) && table?.kind !== "people"
    ? [{ at: whose.at, message: "A record belongs to one company: let the column point to one." }]
    : [];
}

function keyProblems(plan: ImportPlan, table: Table | null, schema: Schema): PlanProblem[] {
  if (plan.key === null) {
    const kind = table?.kind ?? "ordinary";
    return kind === "ordinary"
      ? []
      : [{ at: -1, message: `${table!.name} need a column to be known by: choose it under “Known again by”.` }];
  }
  const c = plan.columns[plan.key];
  if (!c || c.to === "skip" || c.to === "behind") return [{ at: plan.key, message: "The column that records are known by is left out." }];
  if (c.to === "new")
    return table ? [{ at: plan.key, message: "Records that are there have nothing in a new field: choose another column." }] : [];
  const field = c.to === "field" ? schema.findField(c.field) : undefined;
  return table && field && keyFields(table).includes(field)
    ? []
    : [{ at: plan.key, message: "Records cannot be known by this field. Choose a name, a number or an e-mail address." }];
}

function peopleProblems(plan: ImportPlan, roles: readonly { id: string; side: string }[]): PlanProblem[] {
  const goesTo = (id: string): boolean => plan.columns.some((c) => c.to === "field" && c.field === id);
  const problems: PlanProblem[] = [];
  if (!goesTo("f_person_email")) problems.push({ at: -1, message: "People are known by their e-mail address: let a column go to it." });
  if (!goesTo("f_person_name")) problems.push({ at: -1, message: "People need a name: let a column go to it." });
  const side = plan.whose.kind === "agency" ? "agency" : "client";
  if (side === "client" && !goesTo("f_person_companies"))
    problems.push({ at: -1, message: "Let a column name their company, or say that they are the agency's own people." });
  if (!plan.columns.some((c) => c.to === "role") && !roles.some((r) => r.id === plan.role && r.side === side))
    problems.push({
      at: -1,
      message: side === "agency" ? "Choose the agency role that they have." : "Choose the role that they have in their company.",
    });
  return problems;
}
