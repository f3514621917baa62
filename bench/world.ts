/** A portal of the size asked for: 500 companies of very unequal size, sites, and signs under a wall and a role filter. */

import { drizzle } from "drizzle-orm/better-sqlite3";
import { Policy } from "@/core/access/policy";
import { viewerFrom } from "@/core/access/who/make-viewer";
import type { Viewer } from "@/core/access/who/viewer";
import type { PortalId } from "@/core/ids";
import type { Schema } from "@/core/schema/types";
import { Meta } from "@/data/file/meta";
import { migrate, PORTAL } from "@/data/file/migrations";
import { openDatabase, type PortalFile } from "@/data/file/open";
import { Statements } from "@/data/file/statements";
import { addBuiltInTables } from "@/data/tables/built-in";
import { addTable } from "@/data/tables/change";
import { makePolicyIndexes } from "@/data/tables/indexes";
import { schemaOf } from "@/data/tables/read";
import { insertText, insertValues } from "@/data/tables/store";
import { Random } from "@/demo/random";

export interface BenchWorld {
  file: PortalFile;
  schema: Schema;
  policy: Policy;
  signs: string;
  sites: string;
  fields: Record<string, string>;
  viewer: Viewer;
  company: string;
  mySites: string[];
}

const COMPANIES = 500;
const SITES_EACH = 6;

export function makeWorld(path: string, rows: number): BenchWorld {
  const db = openDatabase(path);
  migrate(db, PORTAL);
  const file: PortalFile = {
    id: "bench" as PortalId,
    slug: "bench",
    path,
    db,
    orm: drizzle(db),
    statements: new Statements(db),
    meta: new Meta(db),
    readOnly: false,
  };
  db.pragma("synchronous = OFF");
  db.pragma("wal_autocheckpoint = 100000");
  addBuiltInTables(file);
  const sites = addTable(file, {
    slug: "sites",
    name: "Sites",
    singular: "Site",
    fields: [
      { slug: "name", name: "Name", type: "text" },
      { slug: "company", name: "Company", type: "relation", options: { target: "t_companies" } },
    ],
  });
  const signs = addTable(file, {
    slug: "signs",
    name: "Signs",
    singular: "Sign",
    fields: [
      { slug: "code", name: "Code", type: "text" },
      { slug: "company", name: "Company", type: "relation", options: { target: "t_companies" } },
      { slug: "site", name: "Site", type: "relation", options: { target: sites } },
      { slug: "stage", name: "Stage", type: "choice", options: { choices: ["Planned", "Making", "Fitted"] } },
      { slug: "size", name: "Size", type: "number" },
      { slug: "fitted", name: "Fitted", type: "date" },
      { slug: "cost", name: "Cost", type: "money", options: { currency: "GBP" } },
    ],
  });
  const schema = schemaOf(file);
  const r = new Random(7);
  // Unequal as companies are: the n-th has a share of 1/n (Zipf).
  const weights = Array.from({ length: COMPANIES }, (_, i) => 1 / (i + 1));
  const sum = weights.reduce((a, b) => a + b);
  const ends = weights.map(
    (
      (at) => (w) =>
        (at += w / sum)
    )(0),
  );
  const company = (i: number): string => `c${String(i).padStart(4, "0")}`;
  const pick = (): number => {
    const x = r.next();
    let [lo, hi] = [0, COMPANIES - 1];
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (ends[mid]! < x) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  };
  const fields = Object.fromEntries(schema.table(signs).fields.map((f) => [f.slug, f.id]));
  const siteFields = schema.table(sites).fields.map((f) => f.id);
  db.transaction(() => {
    const companies = db.prepare("INSERT INTO t_companies (id, company_id, f_company_name, f_company_name_k) VALUES (?, ?, ?, ?)");
    const site = db.prepare(insertText(schema.table(sites)));
    for (let i = 0; i < COMPANIES; i++) {
      companies.run(company(i), company(i), `Company ${i}`, `company ${i}`);
      for (let s = 0; s < SITES_EACH; s++)
        site.run(
          ...insertValues(
            schema.table(sites),
            `${company(i)}-s${s}`,
            { [siteFields[0]!]: `Site ${s}`, [siteFields[1]!]: company(i) },
            "bench",
            "",
          ),
        );
    }
    const insert = db.prepare(insertText(schema.table(signs)));
    for (let i = 0; i < rows; i++) {
      const c = pick();
      const values = {
        [fields.code!]: `S-${r.int(0, 9_999_999)}`,
        [fields.company!]: company(c),
        [fields.site!]: `${company(c)}-s${r.int(0, SITES_EACH - 1)}`,
        [fields.stage!]: r.pick(["Planned", "Making", "Fitted"]),
        [fields.size!]: r.int(1, 3000),
        [fields.fitted!]: `20${r.int(10, 25)}-0${r.int(1, 9)}-1${r.int(0, 9)}`,
        [fields.cost!]: r.int(100, 90000),
      };
      insert.run(
        ...insertValues(schema.table(signs), `${i.toString(16).padStart(12, "0")}-${r.int(0, 1e9).toString(16)}`, values, "bench", ""),
      );
    }
    db.exec(`UPDATE "${signs}" SET company_id = "${fields.company}"; UPDATE "${sites}" SET company_id = "${siteFields[1]}"`);
  })();

  const sitesOf = { kind: "viewer" as const, of: "person" as const, field: "their_sites" };
  const policy = new Policy(schema, {
    roles: [{ id: "manager", name: "Manager", side: "client", includes: [] }],
    walls: { [signs]: { kind: "owned", path: [fields.company!] }, [sites]: { kind: "owned", path: [siteFields[1]!] } },
    grants: [
      {
        id: "g1",
        roles: ["manager"],
        table: signs,
        actions: ["see"],
        fields: ["code", "site", "stage", "size", "fitted"].map((s) => fields[s]!),
        changes: [],
        filter: {
          kind: "any",
          of: [
            { kind: "test", path: [fields.stage!], operator: "is", operands: [{ kind: "literal", value: "Fitted" }] },
            { kind: "test", path: [fields.site!], operator: "any-of", operands: [sitesOf] },
          ],
        },
      },
      { id: "g2", roles: ["manager"], table: sites, actions: ["see"], fields: siteFields, changes: [], filter: null },
    ],
  });
  makePolicyIndexes(file, policy, signs);
  db.exec("ANALYZE; DROP TABLE IF EXISTS sqlite_stat4;");
  db.pragma("wal_checkpoint(TRUNCATE)");
  db.pragma("synchronous = NORMAL");
  // A large company, so that there is a full page of 50 at every scale; the same rank each time.
  const own = company(5);
  const mySites = [`${own}-s0`, `${own}-s1`];
  const viewer = viewerFrom({
    kind: "person",
    person: { id: "p", name: "P", status: "active", values: { their_sites: mySites } },
    company: { id: own, name: "Own", values: {} },
    membershipId: "m",
    roles: ["manager"],
    features: new Set(),
    bought: [],
    now: Date.now(),
    timeZone: "Europe/London",
    mode: "live",
  });
  return { file, schema, policy, signs, sites, fields, viewer, company: own, mySites };
}

/** As if the request were new: nothing worked out for this viewer is kept. */
export const anew = (v: Viewer): Viewer => viewerFrom({ ...v });
