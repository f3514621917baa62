/**
 * The portal a test needs: companies, sites, projects and signs behind their walls, with the grants that it names.
 *
 *   const p = testPortal({ grants: [{ roles: ["lead"], table: "signs" }] });
 *   const dana = p.person("Dana", "One", "lead");
 *   const sign = p.add("signs", { code: "N1", project: p.project("One") });
 */
import type { Act } from "@/core/access/act";
import type { Grant } from "@/core/access/rules";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import type { Result } from "@/core/result";
import { fieldBySlug, type Schema, type Table, type Value } from "@/core/schema/types";
import { published, storePublished } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { emptyDefinition } from "@/data/installation/portals";
import { addCompany, addPerson } from "@/data/people/people";
import { Desk, type OwnerDesk } from "@/data/records/desk";
import { schemaOf } from "@/data/tables/read";
import { personViewer, visitorViewer } from "@/identity/viewers/viewer";
import { makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "./world";

/** Tables and fields by slug; what is left out is all fields, seeing, and every record. */
export interface TestGrant extends Partial<Omit<Grant, "table" | "fields" | "changes">> {
  readonly roles: string[];
  readonly table: string;
  readonly fields?: string[];
  readonly changes?: string[];
}
type Values = Readonly<Record<string, Value>>;

export function must<T, E>(r: Result<T, E>): T {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
}

export class TestPortal {
  readonly file: PortalFile = memoryPortal();
  readonly owner = testViewer({ kind: "owner", company: null }) as Owner;
  readonly schema: Schema;
  readonly #companies = new Map<string, string>();
  readonly #projects = new Map<string, string>();

  constructor(grants: readonly TestGrant[], acts: (p: TestPortal) => readonly Act[]) {
    makeTestSchema(this.file);
    this.schema = schemaOf(this.file);
    const rules = emptyDefinition("Test");
    const walls: Definition["walls"] = {
      ...rules.walls,
      [this.table("sites").id]: { kind: "owned", path: [this.field("sites", "company")] },
      [this.table("projects").id]: { kind: "owned", path: [this.field("projects", "company")] },
      [this.table("signs").id]: { kind: "owned", path: [this.field("signs", "project"), this.field("projects", "company")] },
    };
    const all = grants.map((g, i): Definition["grants"][number] => {
      const fields = (slugs: string[] | undefined): string[] =>
        slugs ? slugs.map((s) => this.field(g.table, s)) : this.table(g.table).fields.map((f) => f.id);
      return {
        id: `g${i + 1}`,
        filter: null,
        ...g,
        actions: [...(g.actions ?? ["see"])],
        acts: [...(g.acts ?? [])],
        table: this.table(g.table).id,
        fields: fields(g.fields),
        changes: fields(g.changes ?? []),
        namesOnly: fields([...(g.namesOnly ?? [])]),
      };
    });
    const known = new Set(rules.roles.map((r) => r.id));
    const roles = [...new Set(grants.flatMap((g) => g.roles))]
      .filter((r) => !known.has(r))
      .map((id) => ({ id, name: id, side: "client" as const, includes: [] }));
    storePublished(this.file, { ...rules, roles: [...rules.roles, ...roles], walls, grants: all, acts: [...acts(this)] }, PUBLISHER);
  }

  table(slug: string): Table {
    const t = this.schema.tableBySlug(slug);
    if (!t) throw new Error(`The test portal has no table ${slug}.`);
    return t;
  }
  field(table: string, slug: string): string {
    const f = fieldBySlug(this.table(table), slug);
    if (!f) throw new Error(`The test portal's ${table} have no field ${slug}.`);
    return f.id;
  }

  company(name: string): string {
    const known = this.#companies.get(name);
    if (known) return known;
    const made = must(addCompany(this.file, this.owner, name)).id;
    this.#companies.set(name, made);
    return made;
  }
  project(company: string): string {
    const known = this.#projects.get(company);
    if (known) return known;
    const made = this.add("projects", { title: `Project of ${company}`, company: this.company(company) });
    this.#projects.set(company, made);
    return made;
  }
  /** Active, with one membership; the agency's where no company is named. */
  person(name: string, company: string | null, ...roles: string[]): Desk {
    const memberships = [{ companyId: company && this.company(company), roles }];
    const added = addPerson(this.file, this.owner, { name, email: `${name.toLowerCase()}@t.example`, memberships, status: "active" });
    return this.desk(personViewer(this.file, must(added).id, null, this.owner.now)!);
  }
  /** Somebody as they are by now. */
  again = (desk: Desk): Desk => this.desk(personViewer(this.file, desk.viewer.person!.id, null, this.owner.now)!);
  visitor = (): Desk => this.desk(visitorViewer(this.file, this.owner.now));
  desk = (viewer: Viewer): Desk => new Desk(this.file, published(this.file).policy, viewer);
  get owners(): OwnerDesk {
    return new Desk(this.file, published(this.file).policy, this.owner);
  }

  values = (table: string, values: Values): Values =>
    Object.fromEntries(Object.entries(values).map(([slug, v]) => [this.field(table, slug), v]));
  /** By the owner: wherever it belongs. */
  add = (table: string, values: Values): string => must(this.owners.add(this.table(table), this.values(table, values))).id;
}

export const testPortal = ({ grants, acts = () => [] }: { grants: TestGrant[]; acts?: (p: TestPortal) => Act[] }): TestPortal =>
  new TestPortal(grants, acts);
