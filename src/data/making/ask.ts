/** Whom the records of a table would become, before anything is moved: who is new, who is there already, and what stays a record. */

import { err, ok, type Result } from "@/core/result";
import { holdsEmail, isLine } from "@/core/schema/fields/natures";
import { type Field, kindOf, type Schema, type Table, targetOf, type Value } from "@/core/schema/types";
import { isEmail } from "@/core/text/email";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import { decodeValue, hasColumn, linkTableName } from "../tables/physical";

export interface MakingAsk {
  readonly table: string;
  readonly into: "people" | "companies";
  /** Field ids of the table. For companies only `name` is needed. */
  readonly name: string;
  readonly email: string | null;
  /** A relation to Companies that says where each belongs. */
  readonly company: string | null;
  /** Fields of the table that go on in a field which people or companies have already. */
  readonly joins: Readonly<Record<string, string>>;
  /** The first roles of people with a company, and of those without; with none they get no membership yet. */
  readonly roles: readonly string[];
  readonly agencyRoles: readonly string[];
  /** People without a company are marked as shown to clients. */
  readonly shown: boolean;
}

/** A row as it stands, with columns of fields that are put away too. */
export interface OldRow {
  readonly id: string;
  readonly madeAt: string | null;
  readonly madeBy: string | null;
  readonly values: Readonly<Record<string, Value>>;
  readonly companies: readonly string[];
}

export type Fate =
  | { readonly kind: "new"; readonly row: OldRow; readonly name: string; readonly email: string }
  | { readonly kind: "there"; readonly row: OldRow; readonly id: string; readonly name: string }
  | { readonly kind: "stays"; readonly row: OldRow; readonly why: string };

export interface Making {
  readonly ask: MakingAsk;
  readonly table: Table;
  readonly target: Table;
  /** All fields of the table, put away or not. */
  readonly fields: readonly Field[];
  readonly fates: readonly Fate[];
  /** Fields of the table that point to its own records. */
  readonly turned: ReadonlySet<string>;
}

/** Places of people and companies that fields of the table may take, beside the name. */
export const builtIn = (ask: MakingAsk): ReadonlyMap<string, string> =>
  new Map(
    ask.into === "companies"
      ? [[ask.name, "f_company_name"]]
      : [
          [ask.name, "f_person_name"],
          ...(ask.email ? [[ask.email, "f_person_email"] as [string, string]] : []),
          ...(ask.company ? [[ask.company, "f_person_companies"] as [string, string]] : []),
          ...Object.entries(ask.joins),
        ],
  );

/** Fields of people or companies that one of the table may go on in: of the same type, meaning the same. */
export const joinable = (f: Field, target: Table): Field[] =>
  target.fields.filter((x) => x.id !== target.labelFieldId && x.type === f.type && !x.system && !f.system && sameMeaning(x, f));

function sameMeaning(a: Field, b: Field): boolean {
  const meaning = ({ options }: Field) => [options.choices, options.decimals, options.currency, options.target, options.kept];
  return JSON.stringify(meaning(a)) === JSON.stringify(meaning(b));
}

export function askProblem(schema: Schema, ask: MakingAsk, roles: readonly { id: string; side: string }[]): string | null {
  const table = schema.findTable(ask.table);
  if (!table) return "This table is gone.";
  if (table.kind !== "ordinary") return `${table.name} are people or companies already.`;
  const own = (id: string | null): Field | undefined => table.fields.find((f) => f.id === id);
  const name = own(ask.name);
  if (!name || !kindOf(name).folds) return "Choose the field of text that holds the name.";
  const target = ask.into === "people" ? schema.people : schema.companies;
  for (const [from, to] of Object.entries(ask.joins)) {
    const f = own(from);
    if (!f || !joinable(f, target).some((x) => x.id === to)) return "A field can go on only in one that holds the same.";
  }
  if (new Set(Object.values(ask.joins)).size < Object.keys(ask.joins).length) return "Two fields cannot go on in the same one.";
  if (ask.into === "companies") return null;
  const email = own(ask.email);
  if (!email || (!holdsEmail(email) && !isLine(email))) return "Choose the field that holds the e-mail address.";
  if (email.id === name.id) return "Name and e-mail address are two fields.";
  const company = own(ask.company);
  if (ask.company && company?.options.target !== schema.companies.id) return "Choose a relation to Companies for where each belongs.";
  const side = (id: string): string | undefined => roles.find((r) => r.id === id)?.side;
  if (ask.company && ask.roles.length === 0) return "Choose at least one role that people of a company hold at first.";
  if (ask.roles.some((r) => side(r) !== "client")) return "People of a company hold client roles.";
  if (ask.agencyRoles.some((r) => side(r) !== "agency")) return "People without a company hold agency roles, or none.";
  return ask.shown && ask.agencyRoles.length === 0 ? "Only people of the agency are shown to clients: give them a role." : null;
}

function oldRows(file: PortalFile, table: Table, fields: readonly Field[], company: Field | undefined): OldRow[] {
  const stored = fields.filter((f) => hasColumn(f) && !f.options.kept);
  const columns = stored.map((f) => `, ${sqlName(f.id)}`).join("");
  const raw = file.db
    .prepare(`SELECT id, created_at, created_by${columns} FROM ${sqlName(table.id)} ORDER BY created_at, rowid`)
    .raw()
    .all();
  const several = company && !hasColumn(company) ? linksByRecord(file, company) : null;
  return (raw as unknown[][]).map(([id, madeAt, madeBy, ...rest]) => {
    const values = Object.fromEntries(stored.map((f, i) => [f.id, decodeValue(f, rest[i])]));
    const one = company && !several ? values[company.id] : null;
    const companies = several?.get(id as string) ?? (typeof one === "string" ? [one] : []);
    return { id: id as string, madeAt: madeAt as string | null, madeBy: madeBy as string | null, values, companies };
  });
}

function linksByRecord(file: PortalFile, f: Field): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const [record, to] of file.db
    .prepare(`SELECT record_id, target_id FROM ${sqlName(linkTableName(f))}`)
    .raw()
    .all() as [string, string][])
    found.set(record, [...(found.get(record) ?? []), to]);
  return found;
}

export function planMaking(file: PortalFile, schema: Schema, fields: readonly Field[], ask: MakingAsk): Result<Making, string> {
  const table = schema.table(ask.table);
  const target = ask.into === "people" ? schema.people : schema.companies;
  const rows = oldRows(
    file,
    table,
    fields,
    fields.find((f) => f.id === ask.company),
  );
  const key = ask.into === "people" ? "f_person_email_k" : "f_company_name_k";
  const there = new Map(
    file.db
      .prepare(`SELECT ${sqlName(key)}, id FROM ${sqlName(target.id)} WHERE ${sqlName(key)} IS NOT NULL`)
      .raw()
      .all() as [string, string][],
  );
  const fates = rows.map((row): Fate => {
    const name = String(row.values[ask.name] ?? "")
      .normalize("NFC")
      .trim();
    const email = ask.email ? String(row.values[ask.email] ?? "").trim() : "";
    const known = ask.into === "people" ? email : name;
    const why = ask.into === "people" ? unfitPerson(name, email) : unfitCompany(name);
    if (why) return { kind: "stays", row, why };
    const id = there.get(fold(known));
    if (id) return { kind: "there", row, id, name };
    there.set(fold(known), row.id);
    return { kind: "new", row, name, email };
  });
  if (fates.every((f) => f.kind === "stays") && fates.length > 0)
    return err(
      `None of ${table.name} would become ${ask.into === "people" ? "a person" : "a company"}: ${(fates[0] as { why: string }).why}`,
    );
  const turned = new Set(fields.filter((f) => targetOf(f) === table.id).map((f) => f.id));
  return ok({ ask, table, target, fields, fates, turned });
}

const LONGEST = 120;
function unfitPerson(name: string, email: string): string | null {
  if (email === "") return "It has no e-mail address.";
  if (!isEmail(email)) return `“${email.slice(0, 80)}” is no e-mail address.`;
  if (name === "") return "It has no name.";
  return name.length > LONGEST ? `Its name is longer than ${LONGEST} characters.` : null;
}
const unfitCompany = (name: string): string | null =>
  name === "" ? "It has no name." : name.length > LONGEST ? `Its name is longer than ${LONGEST} characters.` : null;
