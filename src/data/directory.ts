/** The owner's view of everybody: people with their memberships, companies with their standing. */
import { asc } from "drizzle-orm";
import type { PersonStatus } from "@/core/access/viewer";
import type { Definition } from "@/core/definition";
import { published } from "./definitions";
import type { PortalFile } from "./open";
import type { Owner } from "./owner";
import { type Standing, standingOf } from "./standing";
import * as t from "./system/portal-tables";

export interface DirectoryPerson {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly status: PersonStatus;
  readonly password: "none" | "temporary" | "own";
  readonly memberships: { id: string; companyId: string | null; company: string; roles: string[] }[];
}

export interface DirectoryCompany {
  readonly id: string;
  readonly name: string;
  readonly slug: string;
  readonly people: number;
  readonly standing: Standing;
}

export function directory(file: PortalFile, _owner: Owner, today: string): { people: DirectoryPerson[]; companies: DirectoryCompany[] } {
  const { definition } = published(file);
  const names = new Map(file.db.prepare("SELECT id, f_company_name FROM t_companies").raw().all() as [string, string][]);
  const memberships = file.orm.select().from(t.memberships).orderBy(asc(t.memberships.createdAt)).all();
  const passwords = new Map(
    file.orm
      .select({ id: t.credentials.personId, temporary: t.credentials.temporary })
      .from(t.credentials)
      .all()
      .map((c) => [c.id, c.temporary ? "temporary" : "own"] as const),
  );
  const agency = definition.portal.name;
  const rows = file.db
    .prepare("SELECT id, f_person_name, f_person_email, f_person_status FROM t_people ORDER BY f_person_name_k")
    .raw()
    .all() as [string, string, string, PersonStatus][];
  const people = rows.map(
    ([id, name, email, status]): DirectoryPerson => ({
      id,
      name,
      email,
      status,
      password: passwords.get(id) ?? "none",
      memberships: memberships
        .filter((m) => m.personId === id)
        .map((m) => ({
          id: m.id,
          companyId: m.companyId,
          company: m.companyId ? (names.get(m.companyId) ?? "a removed company") : agency,
          roles: m.roles.map((r) => roleName(definition, r)),
        })),
    }),
  );
  const slugs = file.db.prepare("SELECT id, f_company_name, f_company_slug FROM t_companies ORDER BY f_company_name_k").raw().all() as [
    string,
    string,
    string,
  ][];
  const companies = slugs.map(
    ([id, name, slug]): DirectoryCompany => ({
      id,
      name,
      slug,
      people: memberships.filter((m) => m.companyId === id).length,
      standing: standingOf(file, definition, id, today),
    }),
  );
  return { people, companies };
}

export const peopleWith = (file: PortalFile, _owner: Owner, status: PersonStatus): number =>
  file.db.prepare("SELECT count(*) FROM t_people WHERE f_person_status = ?").pluck().get(status) as number;

export const companyNames = (file: PortalFile, _owner: Owner): string[] =>
  file.db.prepare("SELECT f_company_name FROM t_companies").pluck().all() as string[];

export const companyList = (file: PortalFile, _owner: Owner): { id: string; name: string }[] =>
  file.db.prepare("SELECT id, f_company_name AS name FROM t_companies ORDER BY f_company_name_k").all() as { id: string; name: string }[];

const roleName = (d: Definition, id: string): string => d.roles.find((r) => r.id === id)?.name ?? id;
