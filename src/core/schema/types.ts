/** The shape of a portal's data: tables, fields and relations, as the agency made them. */

import { fold } from "../text/fold";
import type { Operand } from "./condition";
import { type FieldType, kindOf, type OptionsOf } from "./fields";
import { isRelation } from "./fields/natures";
import { OPERATOR_WORDS, type Operator } from "./operators";

export { FIELD_TYPES, type FieldType, kindOf } from "./fields";
export { type Choice, TONES, type Tone } from "./fields/kind";
export { isEmpty, type Scalar, type Value, type Values } from "./value";

/** What any field may have. */
export interface SharedOptions {
  required?: boolean;
  /** What a new record has where nothing is given: a literal, the person who adds it, or a date such as today. */
  default?: Operand;
  /** No two records of the table have the same; of owned tables, no two of one company. */
  unique?: boolean;
  /** Said under the field in forms. */
  help?: string;
  /** Left out of forms; whoever may set it does so elsewhere. */
  offForms?: boolean;
  /** Searching does not look there. */
  offSearch?: boolean;
  /** Kept by Elkhorn in the row itself. */
  kept?: Kept;
  /** Of a relation: what becomes of a record when the one it points to is removed; cleared where nothing is said. */
  onRemoval?: "clear" | "refuse" | "remove";
}

export const KEPT = ["made-at", "made-by", "changed-at", "changed-by"] as const;
export type Kept = (typeof KEPT)[number];

export type FieldOf<T extends FieldType> = {
  readonly [K in T]: {
    id: string;
    tableId: string;
    slug: string;
    name: string;
    type: K;
    options: OptionsOf<K> & SharedOptions;
    /** Set by the system alone, whatever a request carries. */
    system: boolean;
  };
}[T];
export type Field = FieldOf<FieldType>;
/** Its target is there: narrow a field to it with `isRelation`. */
export type RelationField = FieldOf<"relation" | "relations">;

/** `books`: written by Elkhorn alone, as orders and invoices are; read like any other table, under walls and grants. */
export type TableKind = "people" | "companies" | "ordinary" | "books";

export interface Table {
  id: string;
  slug: string;
  name: string;
  singular: string;
  kind: TableKind;
  /** The field that names a record where it is mentioned elsewhere. */
  labelFieldId: string;
  about?: string;
  fields: readonly Field[];
}

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
  /** The relation with this id. Only for ids that are known to be relations, such as those of a wall's path. */
  relation(id: string): RelationField {
    const f = this.field(id);
    if (!isRelation(f)) throw new Error(`The field ${id} is no relation; ask isRelation first.`);
    return f;
  }

  findTable = (id: string): Table | undefined => this.#tables.get(id);
  findField = (id: string): Field | undefined => this.#fields.get(id);
  tableBySlug = (slug: string): Table | undefined => this.#slugs.get(slug);
  /** Two tables are never called alike; letters count whatever their case. */
  tableCalled = (name: string): Table | undefined => this.tables.find((t) => fold(t.name) === fold(name.trim()));
  /** For addresses that people share: by its slug or, since that may change, by its id. */
  tableAt = (address: string): Table | undefined => this.#slugs.get(address) ?? this.#tables.get(address);
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

/** The field at an address within its table; undefined where there is none. */
export const fieldBySlug = (table: Table, slug: string): Field | undefined => table.fields.find((f) => f.slug === slug);
/** The table that a field points to, if it points anywhere. */
export const targetOf = (f: Field | undefined): string | undefined => f?.options.target;
/** A field of many as one of a single value: what a filter compares with. */
export const single = (f: Field): Field => {
  const { many } = kindOf(f);
  return many ? ({ ...f, type: many } as Field) : f;
};

/** What a comparison is with: a part of an e-mail address need not be one. */
export const comparedWith = (f: Field, op: Operator): Field =>
  (op === "contains" || op === "starts-with") && kindOf(f).folds ? ({ ...f, type: "text", options: {} } as Field) : single(f);

/** The operators that a test of such a field may have, in the order they are offered. */
export const operatorsFor = (type: FieldType): readonly Operator[] => kindOf({ type }).operators;
/** An operator in words, as they fit a field of this type. */
export const operatorWords = (op: Operator, type: FieldType): string => kindOf({ type }).operatorWords?.[op] ?? OPERATOR_WORDS[op];

/** Of People: somebody of the agency whom clients may see, where a grant opens it (a flag of the system: only the agency sets it). */
export const SHOWN_FIELD = "f_person_shown";
/** The address in People that a person signs in with. */
export const EMAIL_FIELD = "f_person_email";

/** The face of a person: theirs to change, seen by whom a grant lists it to. */
export const PICTURE_FIELD = "f_person_picture";
