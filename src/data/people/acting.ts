/**
 * All that makes a viewer of a person, in two statements: the person with the state of their password, and their memberships with the
 * companies and what those have paid for. Asked at each request, so nothing of it is cached.
 */
import { type SQL, sql } from "drizzle-orm";
import type { PersonStatus } from "@/core/access/who/viewer";
import type { Field, Schema, Table, Value, Values } from "@/core/schema/types";
import type { OpenedRow, Paid } from "../billing/standing";
import type { PortalFile } from "../file/open";
import { decodeValue, hasColumn, linkColumns, linkTableName, physical } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { linksSql } from "../tables/rows";

export type PasswordState = "none" | "temporary" | "own";

export interface PersonFacts {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly status: PersonStatus;
  readonly values: Values;
  readonly password: PasswordState;
}
export interface CompanyFacts {
  readonly id: string;
  readonly name: string;
  readonly slug: string;
  readonly values: Values;
}
export interface Held {
  readonly id: string;
  readonly roles: readonly string[];
  /** Null for the agency's own people. */
  readonly companyId: string | null;
  readonly company: CompanyFacts | null;
  readonly paid: Paid;
}
export interface Acting {
  readonly person: PersonFacts;
  /** The first made is the one acted in at first. */
  readonly memberships: readonly Held[];
}

/** A table's columns in its order, and how what they hold becomes values by field id. */
function columnsOf(schema: Schema, table: Table): { sql: SQL[]; values: (row: readonly unknown[], from: number) => Record<string, Value> } {
  const stored = table.fields.filter(hasColumn);
  const t = physical(schema, table.id);
  return {
    sql: stored.map((f) => sql`${t.column(f.id)}`),
    values: (row, from) => Object.fromEntries(stored.map((f, i) => [f.id, decodeValue(f, row[from + i])])),
  };
}

/** Memberships are the companies of a person. */
const isMemberships = (f: Field): boolean => !hasColumn(f) && linkTableName(f) === "sys_memberships" && linkColumns(f).to === "company_id";
/** Other lists of theirs. */
const listsOf = (people: Table): Field[] => people.fields.filter((f) => !hasColumn(f) && !isMemberships(f));

/** A person with their memberships and the one that they act in; undefined where they are gone. */
export function actingOf(file: PortalFile, personId: string): Acting | undefined {
  const schema = schemaOf(file);
  const { people, companies } = schema;
  const [ofPerson, ofCompany] = file.statements.of(
    schema,
    "columns of people",
    () => [columnsOf(schema, people), columnsOf(schema, companies)] as const,
  );
  const found = file.statements.row(`acting person ${schema.version}`, () => {
    const t = physical(schema, people.id);
    const lists = listsOf(people).map((f) => sql`(SELECT json_group_array(l.id) FROM (${linksSql(f, sql`${t.id}`)}) l)`);
    const temporary = sql`(SELECT temporary FROM sys_credentials WHERE person_id = ${t.id})`;
    return sql`SELECT ${sql.join([temporary, ...lists, ...ofPerson.sql], sql`, `)} FROM ${t.table} WHERE ${t.id} = ${sql.placeholder("p0")}`;
  }, [personId]);
  if (!found) return undefined;
  const memberships = file.statements
    .rows(`acting memberships ${schema.version}`, () => {
      const t = physical(schema, companies.id);
      const paid = sql`s.plan, s.state, s.until, s.time_zone, s.collect, (SELECT json_group_array(json_array(o.kind, o.ref, o.until, o.person_id, o.why))
          FROM sys_opened o WHERE o.company_id = m.company_id)`;
      return sql`SELECT m.id, m.roles, m.company_id, ${paid}, ${t.id}, ${sql.join(ofCompany.sql, sql`, `)} FROM sys_memberships m
          LEFT JOIN ${t.table} ON ${t.id} = m.company_id LEFT JOIN sys_subscriptions s ON s.company_id = m.company_id
          WHERE m.person_id = ${sql.placeholder("p0")} ORDER BY m.created_at, m.rowid`;
    }, [personId])
    .map((row): Held => held(row, ofCompany));
  const lists = listsOf(people);
  const values = ofPerson.values(found, 1 + lists.length);
  for (const f of people.fields) if (isMemberships(f)) values[f.id] = memberships.flatMap((m) => m.companyId ?? []).sort();
  for (const [i, f] of lists.entries()) values[f.id] = JSON.parse(found[1 + i] as string) as string[];
  const text = (f: string): string => String(values[f] ?? "");
  const person: PersonFacts = {
    id: personId,
    name: text("f_person_name"),
    email: text("f_person_email"),
    status: text("f_person_status") as PersonStatus,
    values,
    password: found[0] === null ? "none" : found[0] === 1 ? "temporary" : "own",
  };
  return { person, memberships };
}

function held(row: readonly unknown[], ofCompany: ReturnType<typeof columnsOf>): Held {
  const [id, roles, companyId, plan, state, until, timeZone, collect, opened, found] = row as (string | null)[];
  const values = found === null ? null : ofCompany.values(row, 10);
  return {
    id: id!,
    roles: JSON.parse(roles!) as string[],
    companyId: companyId ?? null,
    company: values && {
      id: companyId!,
      name: String(values.f_company_name ?? ""),
      slug: String(values.f_company_slug ?? ""),
      values,
    },
    paid: {
      row: plan === null ? undefined : { plan: plan!, state: state!, until: until ?? null, timeZone: timeZone!, collect: collect! },
      opened: opened === "[]" ? NONE : (JSON.parse(opened!) as OpenedRow[]),
    },
  };
}

const NONE: readonly OpenedRow[] = [];
