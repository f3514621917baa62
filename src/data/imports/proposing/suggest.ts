import type { ColumnGuess } from "@/core/exchange/guess";
import { headsFirstName, headsLastName } from "@/core/exchange/headings";
import { type ImportPlan, importPlanSchema, type PlanColumn, problemColumns, takesImport } from "@/core/exchange/import-plan";
import { startersFor } from "@/core/exchange/starters";
import { likeliest } from "@/core/money/currency";
import { choosesOne, holdsEmail, isLine, isMoney, isNumber, isRelation, pointsToOne } from "@/core/schema/fields/natures";
import { type Field, kindOf, type Schema, type Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import { draftOf } from "../../definition/draft";
import { published } from "../../definition/published";
import type { PortalFile } from "../../file/open";
import { isFolded, keyName } from "../../tables/physical";
import { schemaOf } from "../../tables/read";
import type { Analysis } from "../reading/receive";
import { bare, isEmpty, type Of, withKey } from "./known-by";
import { lastPlan, namesRoles, rolesOf } from "./remembered";

/** The words of a column's name that say what it is (common practice, no source). */
const NAMES = {
  company: /^(company|client|customer|account|organi[sz]ation|firm)( ?name)?$/i,
  name: /^(full |contact |display )?name$/i,
  title: /^(title|subject|summary|topic)$/i,
  reference: /\b(reference|ref|code|number|no\.?|id|sku|serial)\b/i,
  place: /\b(town|city|county|country|region|state|address|street|postcode|zip|place)\b/i,
  email: /^e?-?mail( address)?$/i,
};

/** `into` is a table's id, or null for a new one; undefined asks for the likeliest. */
export function suggestPlan(of: Of, into?: string | null): ImportPlan {
  const kept = into === undefined ? lastPlan(of) : null;
  if (kept) return kept;
  const schema = schemaOf(of.file);
  const table = into ? schema.findTable(into) : into === undefined ? likelyTable(of, schema) : undefined;
  const plan = table ? intoTable(of, schema, table) : intoNew(of, schema);
  return importPlanSchema.parse({ ...plan, currency: published(of.file).definition.portal.currency });
}

/** A table most of whose fields the file has. */
function likelyTable({ analysis, file }: Of, schema: Schema): Table | undefined {
  const headers = new Set(analysis.header.slice(problemColumns(analysis.header)).map(bare));
  const isPeople =
    analysis.columns.some((c, i) => holdsEmail(c) && NAMES.email.test(analysis.header[i]!)) && analysis.header.some((h) => /name/i.test(h));
  const scored = schema.tables
    .filter((t) => t.kind === "ordinary")
    .map((t) => ({ t, score: t.fields.filter((f) => headers.has(bare(f.name))).length / Math.max(1, headers.size) }))
    .sort((a, b) => b.score - a.score);
  if (scored[0] && scored[0].score >= 0.7) return scored[0].t;
  if (isPeople && analysis.header.length <= 12) return schema.people;
  const fileLooks = analysis.header.length > 0 && NAMES.company.test(analysis.header[0]!) && analysis.columns[0]!.distinct > 0.99;
  return fileLooks && file ? schema.companies : undefined;
}

const freshColumn = (name: string, g: ColumnGuess, currency: string): PlanColumn => ({
  to: "new",
  name,
  type: g.type,
  order: g.dateOrder,
  ...(g.mark ? { mark: g.mark } : {}),
  ...(choosesOne(g) ? { choices: [...g.choices] } : {}),
  ...(isNumber(g) ? { decimals: g.decimals } : {}),
  ...(g.plain ? { plain: true } : {}),
  ...(isMoney(g) ? { currency: likeliest(g.currency, currency) ?? currency } : {}),
});

/** A name that stands in two columns, as they are called. */
function inTwo({ analysis: { header, columns } }: Of): { first: number; last: number } | null {
  const at = (heads: (h: string) => boolean): number => header.findIndex((h, i) => heads(h) && columns[i]!.filled > 0);
  const [first, last] = [at(headsFirstName), at(headsLastName)];
  return first === -1 || last === -1 || header.some((h) => NAMES.name.test(h)) ? null : { first, last };
}

function freshColumns(of: Of, schema: Schema): PlanColumn[] {
  const { currency } = published(of.file).definition.portal;
  const told = problemColumns(of.analysis.header);
  return of.analysis.header.map((name, i): PlanColumn => {
    if (i < told) return { to: "skip" };
    const guess = of.analysis.columns[i]!;
    if (guess.filled === 0) return { to: "skip" };
    const column = freshColumn(name.slice(0, 80), guess, currency);
    const points = pointsTo(of, schema, name, guess);
    return points ? { to: "new", name: name.slice(0, 80), type: "relation", order: "iso", ...points } : column;
  });
}

/** What the values of a column name, if most of them name something. */
function pointsTo(of: Of, schema: Schema, name: string, g: ColumnGuess): { target: string; by?: string; add?: boolean } | null {
  // What is called just "Name" names the row itself, whatever else is called so.
  if (!["text", "choice", "email"].includes(g.type) || NAMES.name.test(name) || NAMES.title.test(name)) return null;
  let best: { table: Table; by: Field; share: number } | null = null;
  for (const table of schema.tables)
    for (const by of table.fields.filter(
      (f) => isFolded(f) && (f.id === table.labelFieldId || f.options.unique || holdsEmail(f) || f.id === "f_person_email"),
    )) {
      const share = shareFound(of.file, table, by, g.values);
      if (share >= 0.5 && share > (best?.share ?? 0)) best = { table, by, share };
    }
  if (best) return { target: best.table.id, ...(best.by.id === best.table.labelFieldId ? {} : { by: best.by.id }) };
  // Nothing is there to be met yet: what is called so is a company all the same.
  return NAMES.company.test(name) ? { target: schema.companies.id, add: isEmpty(of.file, schema.companies.id) } : null;
}

function shareFound(file: PortalFile, table: Table, by: Field, values: readonly string[]): number {
  if (values.length === 0) return 0;
  const wanted = JSON.stringify(values.map((v) => fold(v.normalize("NFC").trim())));
  const found = file.db
    .prepare(
      `SELECT count(DISTINCT ${sqlName(keyName(by.id))}) FROM ${sqlName(table.id)} WHERE ${sqlName(keyName(by.id))} IN (SELECT value FROM json_each(?))`,
    )
    .pluck()
    .get(wanted) as number;
  return found / values.length;
}

function intoNew(of: Of, schema: Schema): Partial<ImportPlan> {
  const columns = freshColumns(of, schema);
  const two = inTwo(of);
  if (two) {
    columns[two.first] = { to: "new", name: "Name", type: "text", order: "iso" };
    columns[two.last] = { to: "behind", at: two.first };
  }
  const title = titleOf(of.analysis, columns);
  if (title !== null) {
    const c = columns[title]!;
    // What names a record is words: a number would be shown as it is stored.
    if (c.to === "new" && !kindOf(c).folds) columns[title] = { to: "new", name: c.name, type: "text", order: "iso" };
  }
  const owned = columns.findIndex((c) => c.to === "new" && pointsToOne(c) && leadsToCompany(of, schema, c.target));
  const direct = columns.findIndex((c) => c.to === "new" && c.target === schema.companies.id);
  const at = direct !== -1 ? direct : owned;
  const whose = at === -1 ? ({ kind: "agency" } as const) : ({ kind: "column", at } as const);
  const people = columns.some((c) => c.to === "new" && c.target === schema.people.id);
  return { table: { name: nameOf(of.fileName) }, columns, title, whose, starters: startersFor(whose.kind, people).slice(0, 1) };
}

function leadsToCompany({ file, owner }: Of, schema: Schema, target: string | undefined): boolean {
  if (!target || target === schema.people.id) return false;
  return target === schema.companies.id || draftOf(file, owner).definition.walls[target]?.kind === "owned";
}

export const nameOf = (fileName: string): string =>
  fileName
    .replace(/\.[a-z]{2,5}$/i, "")
    .replace(/[_-]+/g, " ")
    .trim()
    .slice(0, 60)
    .replace(/^./u, (c) => c.toUpperCase()) || "Table";

/** A name, a title, a reference; else what differs most from row to row. Never where something is. */
function titleOf(analysis: Analysis, columns: readonly PlanColumn[]): number | null {
  const can = (i: number): boolean => {
    const c = columns[i]!;
    return (
      c.to === "new" && !pointsToOne(c) && !NAMES.place.test(analysis.header[i]!) && ["text", "number", "email", "choice"].includes(c.type)
    );
  };
  for (const words of [NAMES.name, NAMES.title, NAMES.reference]) {
    const at = analysis.header.findIndex((h, i) => words.test(h) && can(i) && analysis.columns[i]!.distinct >= 0.5);
    if (at !== -1) return at;
  }
  const named = analysis.header.findIndex((h, i) => /name|title/i.test(h) && can(i) && analysis.columns[i]!.distinct >= 0.5);
  if (named !== -1) return named;
  const distinct = analysis.columns.map((c, i) => (can(i) && isLine(c) ? c.distinct : 0));
  const best = Math.max(0, ...distinct);
  if (best > 0) return distinct.findIndex((d) => d >= best * 0.98);
  const any = columns.findIndex((c) => c.to === "new" && !pointsToOne(c));
  return any === -1 ? null : any;
}

function intoTable(of: Of, schema: Schema, table: Table): Partial<ImportPlan> {
  const fresh = freshColumns(of, schema);
  const two = inTwo(of);
  const told = problemColumns(of.analysis.header);
  const named = two ? nameFieldFor(table, [of.analysis.header[two.first]!, of.analysis.header[two.last]!]) : undefined;
  const used = new Set<string>();
  const columns = of.analysis.header.map((h, i): PlanColumn => {
    const own = fresh[i]!;
    if (i < told) return own;
    if (named && i === two!.first) return { to: "field", field: named.id, order: "iso" };
    if (named && i === two!.last) return { to: "behind", at: two!.first };
    const companies = table.kind === "people" && own.to === "new" && own.target === schema.companies.id;
    const field = fieldFor(table, h, of.analysis.columns[i]!) ?? (companies ? schema.findField("f_person_companies") : undefined);
    if (!field && namesRoles(of, table, i)) return { to: "role" };
    if (!field || used.has(field.id)) return table.kind === "ordinary" ? { to: "skip" } : fresh[i]!;
    used.add(field.id);
    const g = of.analysis.columns[i]!;
    const by = isRelation(field) && own.to === "new" && own.target === field.options.target ? own.by : undefined;
    const add = field.options.target === schema.companies.id && isEmpty(of.file, schema.companies.id);
    return {
      to: "field",
      field: field.id,
      order: g.dateOrder,
      ...(g.mark ? { mark: g.mark } : {}),
      ...(by ? { by } : {}),
      ...(add ? { add } : {}),
    };
  });
  nameThem(of.analysis, table, fresh, columns);
  const plan = importPlanSchema.parse({
    table: { id: table.id },
    columns,
    whose: { kind: "as-is" },
    role: table.kind === "people" ? (rolesOf(of)[0]?.id ?? null) : null,
    currency: "GBP",
  });
  return withKey(plan, of, schema, table);
}

/** The field for a name that stands in two columns; none where the table has fields for the two. */
function nameFieldFor(table: Table, headers: readonly string[]): Field | undefined {
  if (table.fields.some((f) => headers.some((h) => bare(f.name) === bare(h)))) return undefined;
  const label = table.fields.find((f) => f.id === table.labelFieldId);
  return table.kind === "people" || (table.kind === "ordinary" && label !== undefined && isLine(label) && NAMES.name.test(label.name))
    ? label
    : undefined;
}

/** People and companies have a name: where no column is called so, the one that looks like one is taken. */
function nameThem(analysis: Analysis, table: Table, fresh: readonly PlanColumn[], columns: PlanColumn[]): void {
  if (table.kind === "ordinary" || columns.some((c) => c.to === "field" && c.field === table.labelFieldId)) return;
  const at = titleOf(
    analysis,
    fresh.map((c, i) => (columns[i]!.to === "new" ? c : { to: "skip" })),
  );
  if (at !== null) columns[at] = { to: "field", field: table.labelFieldId, order: "iso" };
}

function fieldFor(table: Table, header: string, g: ColumnGuess): Field | undefined {
  const open = table.fields.filter((f) => takesImport(table, f));
  const same = open.find((f) => bare(f.name) === bare(header) || f.slug === bare(header));
  if (same) return same;
  if (table.kind === "people") {
    if (NAMES.email.test(header) || holdsEmail(g)) return table.fields.find((f) => f.id === "f_person_email");
    if (/name/i.test(header) && !NAMES.company.test(header)) return table.fields.find((f) => f.id === "f_person_name");
    if (NAMES.company.test(header)) return table.fields.find((f) => f.id === "f_person_companies");
  }
  return table.kind === "companies" && NAMES.company.test(header) ? table.fields.find((f) => f.id === "f_company_name") : undefined;
}
