/** The shape of a portal's data: tables, fields and relations, as the agency made them. */

import type { Operand } from "../access/condition";

export const FIELD_TYPES = [
  "text",
  "long-text",
  "number",
  "money",
  "date",
  "yes-no",
  "choice",
  "choices",
  "relation",
  "relations",
] as const;
export type FieldType = (typeof FIELD_TYPES)[number];

export interface FieldOptions {
  /** For choice and choices: the words as people read them; a value is one of these words. */
  choices?: string[];
  /** For relation and relations: the id of the table pointed to. */
  target?: string;
  /** For money: ISO 4217 code. Amounts are integers in the currency's minor unit. */
  currency?: string;
  required?: boolean;
  /** What a new record has where nothing is given: a literal, the person who adds it, or a date such as today. */
  default?: Operand;
}

export interface Field {
  id: string;
  tableId: string;
  slug: string;
  name: string;
  type: FieldType;
  options: FieldOptions;
  /** Set by the system alone, whatever a request carries. */
  system: boolean;
}

export type TableKind = "people" | "companies" | "ordinary";

export interface Table {
  id: string;
  slug: string;
  name: string;
  singular: string;
  kind: TableKind;
  /** The field that names a record where it is mentioned elsewhere. */
  labelFieldId: string;
  fields: readonly Field[];
}

/** Empty is null; an empty list is [] and counts as empty. Dates are `YYYY-MM-DD`. */
export type Scalar = string | number | boolean;
export type Value = Scalar | readonly string[] | null;
export type Values = Readonly<Record<string, Value>>;

export const isEmpty = (v: Value | undefined): boolean => v === null || v === undefined || v === "" || (Array.isArray(v) && v.length === 0);

export class Schema {
  readonly #tables: ReadonlyMap<string, Table>;
  readonly #slugs: ReadonlyMap<string, Table>;
  readonly #fields: ReadonlyMap<string, Field>;

  constructor(
    readonly version: number,
    readonly tables: readonly Table[],
  ) {
    this.#tables = new Map(tables.map((t) => [t.id, t]));
    this.#slugs = new Map(tables.map((t) => [t.slug, t]));
    this.#fields = new Map(tables.flatMap((t) => t.fields.map((f) => [f.id, f])));
  }

  /** Throws on an unknown id: ids come from the schema itself, so an unknown one is a programmer's mistake. */
  table(id: string): Table {
    const t = this.#tables.get(id);
    if (!t) throw new Error(`No table ${id} in schema version ${this.version}; look it up by slug if it comes from a person.`);
    return t;
  }
  field(id: string): Field {
    const f = this.#fields.get(id);
    if (!f) throw new Error(`No field ${id} in schema version ${this.version}; look it up by slug if it comes from a person.`);
    return f;
  }
  findTable = (id: string): Table | undefined => this.#tables.get(id);
  findField = (id: string): Field | undefined => this.#fields.get(id);
  tableBySlug = (slug: string): Table | undefined => this.#slugs.get(slug);
  get people(): Table {
    return this.#ofKind("people");
  }
  get companies(): Table {
    return this.#ofKind("companies");
  }
  #ofKind(kind: TableKind): Table {
    const t = this.tables.find((x) => x.kind === kind);
    if (!t) throw new Error(`The schema has no ${kind} table; every portal is made with one.`);
    return t;
  }
}

export const fieldBySlug = (table: Table, slug: string): Field | undefined => table.fields.find((f) => f.slug === slug);
export const isRelation = (f: Field): boolean => f.type === "relation" || f.type === "relations";
