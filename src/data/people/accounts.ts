/** All people, companies and memberships with their values, read in bulk: for counting what everybody sees. */

import type { Row } from "@/core/access/row";
import type { Owner } from "@/core/access/who/viewer";
import type { PortalFile } from "../file/open";
import { companyNames } from "../tables/company-names";
import { schemaOf } from "../tables/read";
import { readRows } from "../tables/rows";

export interface Accounts {
  readonly people: readonly Row[];
  readonly companies: ReadonlyMap<string, Row>;
  /** Names of companies by id, as the office shows them. */
  readonly names: ReadonlyMap<string, string>;
  /** By person, the first made first. */
  readonly memberships: ReadonlyMap<string, readonly { id: string; companyId: string | null; roles: readonly string[] }[]>;
}

/** Every person with memberships, and the companies, in a few statements however many there are. */
export function accountsOf(file: PortalFile, _owner: Owner): Accounts {
  const schema = schemaOf(file);
  const memberships = new Map<string, { id: string; companyId: string | null; roles: string[] }[]>();
  // Ten thousand and more come here: plain rows are read in a fraction of the time.
  const rows = file.db.prepare("SELECT person_id, id, company_id, roles FROM sys_memberships ORDER BY created_at, rowid").raw().all();
  for (const [person, id, companyId, roles] of rows as [string, string, string | null, string][]) {
    const m = { id, companyId, roles: JSON.parse(roles) as string[] };
    const list = memberships.get(person);
    if (list) list.push(m);
    else memberships.set(person, [m]);
  }
  return {
    people: readRows(file, schema, schema.people),
    companies: new Map(readRows(file, schema, schema.companies).map((r) => [r.id, r])),
    names: companyNames(file),
    memberships,
  };
}

/** How many memberships list each role, included ones aside. */
export function roleHolders(file: PortalFile, _owner: Owner): Map<string, number> {
  const rows = file.db.prepare("SELECT r.value, count(*) FROM sys_memberships m, json_each(m.roles) r GROUP BY 1").raw().all();
  return new Map(rows as [string, number][]);
}
