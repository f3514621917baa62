/**
 * The demo's rules against an oracle of their own: for each person and table, SQL written by hand from the demo's description
 * says how many records they must see. None of Elkhorn's access code takes part in it.
 */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import Database from "@/data/file/sqlite";
import { type Client, signedIn } from "../support/client";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
const control = new Database(join(data, "elkhorn.db"), { readonly: true });
const id = control.prepare("SELECT id FROM portals WHERE slug = 'fernhill'").pluck().get() as string;
control.close();
const db = new Database(join(data, "portals", `${id}.db`), { readonly: true });
afterAll(() => db.close());

interface Person {
  name: string;
  email: string;
  company: string | null;
  roles: string[];
}
const people: Person[] = JSON.parse(readFileSync(join(data, "demo-accounts.json"), "utf8")).portals[0].people;

const tables = Object.fromEntries(db.prepare("SELECT slug, id FROM sys_tables").raw().all() as [string, string][]);
const column = (table: string, slug: string): string =>
  `"${db.prepare("SELECT id FROM sys_fields WHERE table_id = ? AND slug = ?").pluck().get(tables[table], slug)}"`;
/** The id that rows hold for a choice that people read as a word. */
const choice = (table: string, slug: string, word: string): string =>
  db
    .prepare(
      "SELECT c.value ->> 'id' FROM sys_fields f, json_each(f.options, '$.choices') c WHERE f.table_id = ? AND f.slug = ? AND c.value ->> 'name' = ?",
    )
    .pluck()
    .get(tables[table], slug, word) as string;
const count = (sql: string, ...values: unknown[]): number =>
  db
    .prepare(sql)
    .pluck()
    .get(...values) as number;
const t = (slug: string): string => `"${tables[slug]}"`;

/** The company of each table's records, by joins that are spelt out here. */
const OWNER: Record<string, string> = {
  sites: column("sites", "company"),
  projects: column("projects", "company"),
  requests: column("requests", "company"),
  invoices: column("invoices", "company"),
  documents: column("documents", "company"),
  signs: `(SELECT p.${column("projects", "company")} FROM ${t("projects")} p WHERE p.id = x.${column("signs", "project")})`,
  proofs: `(SELECT p.${column("projects", "company")} FROM ${t("signs")} s JOIN ${t("projects")} p ON p.id = s.${column("signs", "project")} WHERE s.id = x.${column("proofs", "sign")})`,
};
const mine = (siteColumn: string): string =>
  `x.${siteColumn} IN (SELECT target_id FROM "l_${column("people", "sites").replaceAll('"', "")}" WHERE record_id = @person)`;

interface Who {
  role: string;
  person: string;
  company: string;
  features: Set<string>;
}

/** What a client must see, from the description of the demo: role, filter, and what the plan needs to include. */
function expected(table: string, w: Who): number {
  const where: string[] = [];
  const open = (condition: string, feature: string | null): void => {
    if (!feature || w.features.has(feature)) where.push(condition);
  };
  const closed = `x.${column("requests", "status")} = '${choice("requests", "status", "Closed")}'`;
  const report = `x.${column("documents", "kind")} = '${choice("documents", "kind", "Report")}'`;
  switch (`${w.role} ${table}`) {
    case "lead sites":
    case "lead projects":
    case "lead signs":
    case "lead proofs":
    case "approver proofs":
    case "approver signs":
    case "onlooker projects":
      open("1", "portal");
      break;
    case "lead requests":
      open(`NOT ${closed}`, "portal");
      open(closed, "history");
      break;
    case "manager requests":
      open(`NOT ${closed} AND ${mine(column("requests", "site"))}`, "portal");
      open(closed, "history");
      break;
    case "ward requests":
      open(`x.${column("requests", "asked-by")} = @person`, "portal");
      break;
    case "lead documents":
      open(`NOT ${report}`, "portal");
      open(report, "reports");
      break;
    case "lead invoices":
    case "accounts invoices":
      open("1", null);
      break;
    case "manager sites":
      open(mine("id"), "portal");
      break;
    case "manager signs":
      open(mine(column("signs", "site")), "portal");
      break;
    default:
  }
  if (where.length === 0) return 0;
  return count(`SELECT count(*) FROM ${t(table)} x WHERE ${OWNER[table]} = @company AND (${where.join(" OR ")})`, {
    company: w.company,
    person: w.person,
  });
}

const FEATURES: Record<string, string[]> = {
  essential: ["portal"],
  standard: ["portal", "history"],
  priority: ["portal", "history", "reports"],
};

function whoIs(p: Person): Who {
  const person = db.prepare("SELECT id FROM t_people WHERE f_person_email = ?").pluck().get(p.email) as string;
  const company = db.prepare("SELECT id FROM t_companies WHERE f_company_name = ?").pluck().get(p.company) as string;
  const s = db.prepare("SELECT plan, state FROM sys_subscriptions WHERE company_id = ?").get(company) as { plan: string; state: string };
  return { role: p.roles[0]!, person, company, features: new Set(s.state === "lapsed" ? [] : FEATURES[s.plan]) };
}

const clients = people.filter(
  (p) => p.company && p.roles.length > 0 && !["Aled Marrick", "Ottilie Pask"].includes(p.name) && !p.company.startsWith("Kestrel"),
);

describe.each(clients.map((p) => [p.name, p] as const))("%s", (_, p) => {
  let client: Client;
  beforeAll(async () => {
    client = await signedIn(port, p.email);
  });
  it("sees as many records of each table as the description says", async () => {
    const w = whoIs(p);
    const found: Record<string, number> = {};
    const wanted: Record<string, number> = {};
    for (const table of Object.keys(OWNER)) {
      const a = await client.api(`/tables/${table}/records?limit=1`);
      found[table] = a.status === 200 ? a.json.total : 0;
      wanted[table] = expected(table, w);
    }
    expect(found).toEqual(wanted);
  });
  it("sees no record twice, none of another company, and no field that is the agency's", async () => {
    const w = whoIs(p);
    for (const table of Object.keys(OWNER)) {
      const a = await client.api(`/tables/${table}/records?limit=200`);
      if (a.status !== 200) continue;
      const ids: string[] = a.json.records.map((r: { id: string }) => r.id);
      expect(new Set(ids).size).toBe(ids.length);
      const strangers = count(
        `SELECT count(*) FROM ${t(table)} x WHERE x.id IN (SELECT value FROM json_each(?)) AND ${OWNER[table]} IS NOT ?`,
        JSON.stringify(ids),
        w.company,
      );
      expect([table, strangers]).toEqual([table, 0]);
      for (const secret of ["unit-cost", "margin", "internal-note"]) expect(a.text).not.toContain(`"${secret}"`);
    }
  });
  it("sees shared standards exactly while the plan includes the portal, and the price book never", async () => {
    const standards = await client.api("/tables/standards/records?limit=1");
    expect(standards.status === 200 ? standards.json.total : 0).toBe(whoIs(p).features.has("portal") ? 25 : 0);
    expect((await client.api("/tables/price-book/records")).status).toBe(404);
  });
  it("sees the people of the own company, and of the agency who is shown, alone", async () => {
    const w = whoIs(p);
    const colleagues = await client.api("/tables/people/records?limit=200");
    if (!w.features.has("portal")) {
      expect(colleagues.status).toBe(403);
      return;
    }
    const wanted = db.prepare("SELECT person_id FROM sys_memberships WHERE company_id = ?").pluck().all(w.company) as string[];
    const shown =
      "SELECT id FROM t_people WHERE f_person_shown = 1 AND id NOT IN (SELECT person_id FROM sys_memberships WHERE company_id IS NOT NULL)";
    wanted.push(...(db.prepare(shown).pluck().all() as string[]));
    expect(wanted).toContain(db.prepare("SELECT id FROM t_people WHERE f_person_name = 'Ines Fairlough'").pluck().get());
    expect(colleagues.json.records.map((r: { id: string }) => r.id).sort()).toEqual(wanted.sort());
  });
});

it("the figures of the demo are those of its description", () => {
  const rows = Object.fromEntries(
    ["sites", "projects", "proofs", "requests", "invoices", "documents", "standards", "price-book"].map((s) => [
      s,
      count(`SELECT count(*) FROM ${t(s)} WHERE created_by = 'demo'`),
    ]),
  );
  expect(rows).toEqual({
    sites: 20,
    projects: 24,
    proofs: 140,
    requests: 180,
    invoices: 90,
    documents: 60,
    standards: 25,
    "price-book": 40,
  });
  expect(Math.abs(count(`SELECT count(*) FROM ${t("signs")} WHERE created_by = 'demo'`) - 1200)).toBeLessThan(60);
  expect(count("SELECT count(*) FROM t_companies")).toBe(7);
  const named = db.prepare("SELECT count(*) FROM t_people WHERE f_person_name LIKE '% Achterberg'").pluck().get();
  expect(named).toBe(2);
});

it("the company kept in each row is the one that the joins lead to", () => {
  for (const [table, owner] of Object.entries(OWNER)) {
    expect([table, count(`SELECT count(*) FROM ${t(table)} x WHERE x.company_id IS NOT ${owner}`)]).toEqual([table, 0]);
  }
});
