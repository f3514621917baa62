/** A small portal in memory for tests of the policy: every type of field, three hops, awkward values. */

import { drizzle } from "drizzle-orm/better-sqlite3";
import type { Row, World } from "@/core/access/row";
import type { Grant } from "@/core/access/rules";
import { viewerFrom } from "@/core/access/who/make-viewer";
import type { Viewer, ViewerFacts } from "@/core/access/who/viewer";
import { system } from "@/core/events/event";
import type { PortalId } from "@/core/ids";
import type { Schema, Value } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { Publisher } from "@/data/definition/published";
import { Meta } from "@/data/file/meta";
import { migrate, PORTAL } from "@/data/file/migrations";
import type { PortalFile } from "@/data/file/open";
import Database from "@/data/file/sqlite";
import { Statements } from "@/data/file/statements";
import { transact } from "@/data/file/transact";
import { addBuiltInTables } from "@/data/tables/built-in";
import { addTable } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { insertRow, type Made } from "@/data/tables/store";

/** Choices whose ids are their words, so that tests can name them. */
const words = (...names: string[]) => names.map((id) => ({ id, name: id }));

/** By whom and when, where a test does not care. */
export const MADE: Made = { by: "test", at: "2026-06-15T12:00:00.000Z" };
export const PUBLISHER: Publisher = { actor: system("test"), name: "test", at: Date.UTC(2026, 5, 15, 12) };

let portals = 0;
export function memoryPortal(): PortalFile {
  const db = new Database(":memory:");
  db.pragma("foreign_keys = ON");
  migrate(db, PORTAL);
  return {
    id: "test" as PortalId,
    slug: "test",
    // What is remembered of a portal goes by its path: no test meets what another left.
    path: `:memory: ${++portals}`,
    db,
    orm: drizzle(db),
    statements: new Statements(db),
    meta: new Meta(db),
    readOnly: false,
  };
}

/** Companies, People, Sites (company), Projects (company, lead), Signs (project, site, tags: sites; text, number, ...). */
export function makeTestSchema(
  file: PortalFile,
  builtIn = true,
): {
  schema: Schema;
  t: Record<"sites" | "projects" | "signs" | "people" | "companies", string>;
} {
  if (builtIn) addBuiltInTables(file);
  const sites = addTable(file, {
    slug: "sites",
    name: "Sites",
    singular: "Site",
    fields: [
      { slug: "name", name: "Name", type: "text" },
      { slug: "company", name: "Company", type: "relation", options: { target: "t_companies" } },
      { slug: "open", name: "Open", type: "yes-no" },
    ],
  });
  const projects = addTable(file, {
    slug: "projects",
    name: "Projects",
    singular: "Project",
    fields: [
      { slug: "title", name: "Title", type: "text" },
      { slug: "company", name: "Company", type: "relation", options: { target: "t_companies" } },
      { slug: "lead", name: "Lead", type: "relation", options: { target: "t_people" } },
      { slug: "stage", name: "Stage", type: "choice", options: { choices: words("Design", "Making", "Done") } },
    ],
  });
  const signs = addTable(file, {
    slug: "signs",
    name: "Signs",
    singular: "Sign",
    fields: [
      { slug: "code", name: "Code", type: "text" },
      { slug: "note", name: "Note", type: "long-text" },
      { slug: "project", name: "Project", type: "relation", options: { target: projects } },
      { slug: "site", name: "Site", type: "relation", options: { target: sites } },
      { slug: "also", name: "Also at", type: "relations", options: { target: sites } },
      { slug: "size", name: "Size", type: "number", options: { decimals: 0 } },
      { slug: "cost", name: "Cost", type: "money", options: { currency: "GBP" } },
      { slug: "fitted", name: "Fitted", type: "date" },
      { slug: "checked", name: "Checked", type: "date-time" },
      { slug: "contact", name: "Contact", type: "email" },
      { slug: "lit", name: "Lit", type: "yes-no" },
      { slug: "type", name: "Type", type: "choice", options: { choices: words("Door", "Hanging", "Totem") } },
      { slug: "marks", name: "Marks", type: "choices", options: { choices: words("new", "worn", "lost") } },
    ],
  });
  return { schema: schemaOf(file), t: { sites, projects, signs, people: "t_people", companies: "t_companies" } };
}

export interface TestRecord {
  table: string;
  id: string;
  companyId: string | null;
  values: Record<string, Value>;
}

/** Replaces all records; stored companies are written as given. */
export function fill(file: PortalFile, schema: Schema, records: readonly TestRecord[]): World & { all(table: string): Row[] } {
  file.db.pragma("foreign_keys = OFF");
  transact(file, () => {
    for (const table of schema.tables) {
      file.db.exec(`DELETE FROM ${sqlName(table.id)}`);
      for (const f of table.fields) if (f.type === "relations" && !f.system) file.db.exec(`DELETE FROM "l_${f.id}"`);
    }
    file.db.exec("DELETE FROM sys_memberships");
    for (const r of records) {
      insertRow(file, schema.table(r.table), r.id, r.values, MADE);
      if (r.companyId) file.db.prepare(`UPDATE ${sqlName(r.table)} SET company_id = ? WHERE id = ?`).run(r.companyId, r.id);
      for (const company of (r.values.f_person_companies as string[] | undefined) ?? []) {
        file.db.prepare("INSERT INTO sys_memberships VALUES (?, ?, ?, '[]', '')").run(`${r.id}-${company}`, r.id, company);
      }
    }
  });
  const rows = new Map(records.map((r) => [`${r.table} ${r.id}`, r as Row]));
  return { row: (table, id) => rows.get(`${table} ${id}`), all: (table) => records.filter((r) => r.table === table) };
}

export const testViewer = (facts: Partial<ViewerFacts> = {}): Viewer =>
  viewerFrom({
    kind: "person",
    person: { id: "p1", name: "Dana", status: "active", values: {} },
    company: { id: "c1", name: "One", values: {} },
    membershipId: "m1",
    roles: [],
    features: new Set(),
    bought: [],
    now: Date.UTC(2026, 5, 15, 12),
    timeZone: "Europe/London",
    mode: "live",
    ...facts,
  });

/** Leads see the codes of signs, as far as a test says nothing else. */
export const signsGrant = (schema: Schema, more: Partial<Grant> = {}): Grant => {
  const signs = schema.tableBySlug("signs")!;
  const code = signs.fields.find((f) => f.slug === "code")!.id;
  return { id: "g1", roles: ["lead"], table: signs.id, actions: ["see"], filter: null, fields: [code], changes: [], ...more };
};
