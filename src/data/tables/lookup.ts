/** Records that a column names: by what it says, and whose they are. */

import { isRelation } from "@/core/schema/fields/natures";
import { type Field, kindOf, type Schema, type Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { isFolded } from "./physical";
import { storedValue } from "./store";

export interface Known {
  readonly id: string;
  readonly company: string | null;
}

/** What was written, as it is compared: folded, and without spaces at the ends. */
export const keyOf = (text: string): string => fold(text.normalize("NFC").trim());

export class Lookup {
  readonly #byText = new Map<string, Known | Known[]>();
  readonly #byId = new Map<string, Known>();
  readonly #names = new Map<string, string>();
  /** Names as they stand, for what is near to one that is nowhere. */
  readonly names: { id: string; name: string }[] = [];

  constructor(
    file: PortalFile,
    readonly table: Table,
    private readonly by: Field,
    nameField: Field,
  ) {
    const column = (f: Field): string => sqlName(f.id);
    const rows = file.db
      .prepare(
        `SELECT id, ${table.kind === "companies" ? "id" : "company_id"}, ${column(by)}, ${column(nameField)} FROM ${sqlName(table.id)}`,
      )
      .raw()
      .iterate() as IterableIterator<[string, string | null, string | number | null, string | number | null]>;
    for (const [id, company, text, name] of rows) {
      const known = { id, company };
      this.#byId.set(id, known);
      if (name !== null) {
        this.names.push({ id, name: String(name) });
        this.#names.set(id, String(name));
      }
      if (text === null) continue;
      const key = isFolded(by) ? fold(String(text)) : String(text);
      const there = this.#byText.get(key);
      if (!there) this.#byText.set(key, known);
      else if (Array.isArray(there)) there.push(known);
      else this.#byText.set(key, [there, known]);
    }
  }

  #key(text: string): string {
    if (isFolded(this.by)) return keyOf(text);
    const read = kindOf(this.by).parse([text], this.by);
    return read.ok ? String(storedValue(read.value)) : "";
  }

  nameOf = (id: string): string | undefined => this.#names.get(id);
  byId = (id: string): Known | undefined => this.#byId.get(id);

  /** Finds a record by its id or its text; of several with the same text, the one of this company. */
  find(text: string, company: string | null | undefined): Known | "many" | undefined {
    const own = this.#byId.get(text.trim());
    if (own) return own;
    const there = this.#byText.get(this.#key(text));
    if (!Array.isArray(there)) return there;
    const within = company ? there.filter((k) => k.company === company) : [];
    return within.length === 1 ? within[0] : "many";
  }
}

/** Companies that people belong to; null stands for the agency. */
export function companiesOfPeople(file: PortalFile): Map<string, Set<string | null>> {
  const found = new Map<string, Set<string | null>>();
  for (const [person, company] of file.db.prepare("SELECT person_id, company_id FROM sys_memberships").raw().all() as [
    string,
    string | null,
  ][]) {
    const held = found.get(person);
    if (held) held.add(company);
    else found.set(person, new Set([company]));
  }
  return found;
}

/** The field that a relation's cells name records by. */
export function lookedUpBy(schema: Schema, relation: Field, by: string | null | undefined): Field {
  if (!isRelation(relation)) throw new Error(`${relation.name} is no relation; nothing is looked up for it.`);
  const target = schema.table(relation.options.target);
  const field = by ? target.fields.find((f) => f.id === by) : undefined;
  return field ?? schema.field(target.labelFieldId);
}
