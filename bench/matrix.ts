/** Sightlines of 10,000 memberships over twelve tables of two million rows, the impact of one changed grant, and safeguards. */

import { draftPolicy, Policy } from "@/core/access/policy";
import type { Grant, Rules } from "@/core/access/rules";
import { viewerFrom } from "@/core/access/who/make-viewer";
import type { Viewer } from "@/core/access/who/viewer";
import { shiftOf, touchedTables } from "@/core/review/impact";
import { cellOf, Sentences } from "@/core/review/sightlines";
import { countWhere, ManyCounter } from "@/data/records/counting/count-many";
import { addTable } from "@/data/tables/change";
import { makePolicyIndexes } from "@/data/tables/indexes";
import { schemaOf } from "@/data/tables/read";
import { insertText, insertValues } from "@/data/tables/store";
import { Random } from "@/demo/random";
import { print, round } from "./measure";
import { safeguards } from "./safeguards";
import type { BenchWorld } from "./world";

const MEMBERSHIPS = 10_000;
const OTHERS = 9; // beside companies, sites and signs: twelve tables
const ROLES = ["lead", "manager", "approver"] as const;

interface Member {
  id: string;
  role: (typeof ROLES)[number];
  company: string;
  sites: string[];
}

const seconds = (from: bigint): number => Number(process.hrtime.bigint() - from) / 1e9;
const companyAt = (i: number): string => `c${String(i).padStart(4, "0")}`;

/** Nine more tables like the signs, so that there are two million rows in all. */
function widen(w: BenchWorld, rows: number): string[] {
  const r = new Random(11);
  const made: string[] = [];
  for (let n = 0; n < OTHERS; n++) {
    const table = addTable(w.file, {
      slug: `papers-${n}`,
      name: `Papers ${n}`,
      singular: "Paper",
      fields: [
        { slug: "title", name: "Title", type: "text" },
        { slug: "company", name: "Company", type: "relation", options: { target: "t_companies" } },
        { slug: "site", name: "Site", type: "relation", options: { target: w.sites } },
        { slug: "stage", name: "Stage", type: "choice", options: { choices: ["Planned", "Making", "Fitted"] } },
      ],
    });
    made.push(table);
    const t = schemaOf(w.file).table(table);
    const [title, company, site, stage] = t.fields.map((f) => f.id) as [string, string, string, string];
    const insert = w.file.db.prepare(insertText(t));
    w.file.db.transaction(() => {
      for (let i = 0; i < rows; i++) {
        const c = companyAt(r.int(0, 499));
        const values = {
          [title]: `P${r.int(0, 9_999_999)}`,
          [company]: c,
          [site]: `${c}-s${r.int(0, 5)}`,
          [stage]: r.pick(["Planned", "Making", "Fitted"]),
        };
        insert.run(...insertValues(t, `${n}-${i.toString(16).padStart(10, "0")}`, values, "bench", ""));
      }
      w.file.db.exec(`UPDATE "${table}" SET company_id = "${company}"`);
    })();
  }
  return made;
}

export function benchMatrix(w: BenchWorld): void {
  const others = widen(w, Math.round(1_000_000 / OTHERS));
  const schema = schemaOf(w.file);
  const tables = [w.signs, ...others];
  const field = (table: string, slug: string): string => schema.table(table).fields.find((f) => f.slug === slug)!.id;
  const rules = rulesFor(w, tables, field, schema.table(w.sites).fields[1]!.id, schema);
  const policy = new Policy(schema, rules);
  for (const t of tables) makePolicyIndexes(w.file, policy, t);
  w.file.db.exec("ANALYZE; DROP TABLE IF EXISTS sqlite_stat4;");
  w.file.statements.clear();
  const members = makeMembers();
  const viewers = members.map(asViewer);
  store(w, members);

  const names = { company: () => undefined, record: () => undefined, feature: () => undefined };
  const ours = () => {
    const counter = new ManyCounter(w.file, schema, w.viewer as never);
    const sentences = new Sentences();
    return {
      cells: schema.tables.map((t) => viewers.map((v) => cellOf(policy, v, t.id, (id, plan) => counter.count(id, plan), sentences, names))),
      queries: counter.queries,
    };
  };
  const bare = () => tables.map((t) => byHand(w, t, field(t, "stage"), field(t, "site")));
  const found = ours();
  const wanted = bare();
  for (const [i, t] of tables.entries()) {
    const cells = found.cells[schema.tables.findIndex((x) => x.id === t)]!;
    for (const [m, member] of members.entries())
      if (cells[m]![0] !== wanted[i]!.get(member.id))
        throw new Error(`The two counts differ for ${member.id} in ${t}: ${cells[m]![0]} and ${wanted[i]!.get(member.id)}.`);
  }
  const ratios: number[] = [];
  const bares: number[] = [];
  for (let i = 0; i < 3; i++) {
    const a = process.hrtime.bigint();
    ours();
    const took = seconds(a);
    const b = process.hrtime.bigint();
    bare();
    bares.push(seconds(b));
    ratios.push(took / bares[i]!);
  }
  print({
    name: "sightlines, 10,000 memberships x 12 tables, 2 M rows",
    ratio: round(ratios.sort((x, y) => x - y)[1]!),
    unit: `x hand-written grouped SQL (${found.queries} queries)`,
    goal: "<= 1.3",
  });
  // Seconds are not stable between machines and hours: what has no hand-written counterpart is told against the same grouped counting.
  const counting = Math.min(...bares);
  const unit = `x counting the whole matrix by hand (${round(counting)} s)`;
  print({
    name: "impact of one changed grant",
    ratio: round(impact(w, policy, rules, viewers, field(w.signs, "stage")) / counting),
    unit,
    goal: "<= 0.25",
  });
  print({
    name: "32 safeguards on a draft",
    ratio: round(safeguards(w, policy, rules, viewers, others) / counting),
    unit: `${unit}, in the background`,
    goal: "<= 0.6",
  });
}

function rulesFor(
  w: BenchWorld,
  tables: readonly string[],
  field: (t: string, s: string) => string,
  sitesCompany: string,
  schema: ReturnType<typeof schemaOf>,
): Rules {
  const grants: Grant[] = tables.flatMap((t): Grant[] => {
    const fields = schema.table(t).fields.map((f) => f.id);
    const is = (value: string) => ({
      kind: "test" as const,
      path: [field(t, "stage")],
      operator: "is" as const,
      operands: [{ kind: "literal" as const, value }],
    });
    const mine = {
      kind: "test" as const,
      path: [field(t, "site")],
      operator: "any-of" as const,
      operands: [{ kind: "viewer" as const, of: "person" as const, field: "their_sites" }],
    };
    const line = (id: string, role: string, filter: Grant["filter"]): Grant => ({
      id: `${t}-${id}`,
      roles: [role],
      table: t,
      actions: ["see"],
      filter,
      fields,
      changes: [],
    });
    return [
      line("all", "lead", null),
      line("fitted", "manager", is("Fitted")),
      line("mine", "manager", mine),
      line("making", "approver", is("Making")),
    ];
  });
  return {
    roles: ROLES.map((id) => ({ id, name: id, side: "client", includes: [] })),
    walls: Object.fromEntries([
      ...tables.map((t) => [t, { kind: "owned", path: [field(t, "company")] }]),
      [w.sites, { kind: "owned", path: [sitesCompany] }],
    ]),
    grants: [
      ...grants,
      {
        id: "sites",
        roles: [...ROLES],
        table: w.sites,
        actions: ["see"],
        filter: null,
        fields: schema.table(w.sites).fields.map((f) => f.id),
        changes: [],
      },
    ],
  };
}

function makeMembers(): Member[] {
  const r = new Random(5);
  return Array.from({ length: MEMBERSHIPS }, (_, i): Member => {
    const company = companyAt(r.int(0, 499));
    const first = r.int(0, 4);
    return { id: `m${i}`, role: ROLES[i % 3]!, company, sites: [`${company}-s${first}`, `${company}-s${first + 1}`] };
  });
}

const asViewer = (m: Member): Viewer =>
  viewerFrom({
    kind: "person",
    person: { id: m.id, name: m.id, status: "active", values: { their_sites: m.sites } },
    company: { id: m.company, name: m.company, values: {} },
    membershipId: m.id,
    roles: [m.role],
    features: new Set(),
    bought: [],
    now: Date.UTC(2026, 0, 1),
    timeZone: "UTC",
    mode: "see-as",
  });

function store(w: BenchWorld, members: readonly Member[]): void {
  w.file.db.exec(`CREATE TABLE bm (id TEXT PRIMARY KEY, company_id TEXT, role TEXT); CREATE INDEX bm_role ON bm (role, company_id);
    CREATE TABLE bs (person_id TEXT, site_id TEXT, PRIMARY KEY (person_id, site_id)) WITHOUT ROWID;`);
  const [m, s] = [w.file.db.prepare("INSERT INTO bm VALUES (?, ?, ?)"), w.file.db.prepare("INSERT INTO bs VALUES (?, ?)")];
  w.file.db.transaction(() => {
    for (const x of members) {
      m.run(x.id, x.company, x.role);
      for (const site of x.sites) s.run(x.id, site);
    }
  })();
}

/** As one would write it: grants that do not depend on the viewer grouped by company, the others joined from the viewer's values. */
function byHand(w: BenchWorld, t: string, stage: string, site: string): Map<string, number> {
  const grouped = (role: string, where: string): [string, number][] =>
    w.file.db
      .prepare(
        `SELECT m.id, coalesce(g.n, 0) FROM bm m LEFT JOIN (SELECT company_id, count(*) n FROM "${t}" WHERE ${where} GROUP BY company_id) g USING (company_id) WHERE m.role = ?`,
      )
      .raw()
      .all(role) as [string, number][];
  const all = new Map([
    ...grouped("lead", "company_id IS NOT NULL"),
    ...grouped("approver", `"${stage}" = 'Making'`),
    ...grouped("manager", `"${stage}" = 'Fitted'`),
  ]);
  const own = w.file.db
    .prepare(
      `SELECT m.id, count(s.id) FROM bm m JOIN bs ps ON ps.person_id = m.id JOIN "${t}" s ON s."${site}" = ps.site_id AND s.company_id = m.company_id AND ("${stage}" = 'Fitted') IS NOT 1 WHERE m.role = 'manager' GROUP BY m.id`,
    )
    .raw()
    .all() as [string, number][];
  for (const [id, n] of own) all.set(id, (all.get(id) ?? 0) + n);
  return all;
}

function impact(w: BenchWorld, before: Policy, rules: Rules, viewers: readonly Viewer[], stage: string): number {
  const changed = rules.grants.map((g) =>
    g.id === `${w.signs}-making`
      ? {
          ...g,
          filter: {
            kind: "test" as const,
            path: [stage],
            operator: "any-of" as const,
            operands: [{ kind: "literal" as const, value: ["Making", "Planned"] }],
          },
        }
      : g,
  );
  const times: number[] = [];
  for (let i = 0; i < 3; i++) {
    const from = process.hrtime.bigint();
    const after = draftPolicy(before, { ...rules, grants: changed });
    const [gained, lost] = [
      new ManyCounter(w.file, before.schema, w.viewer as never),
      new ManyCounter(w.file, before.schema, w.viewer as never),
    ];
    const counts = {
      gained: (t: string, plan: Parameters<typeof gained.count>[1]) => gained.count(t, plan),
      lost: (t: string, plan: Parameters<typeof lost.count>[1]) => lost.count(t, plan),
      where: (t: string, p: Parameters<typeof countWhere>[3]) => countWhere(w.file, before.schema, t, p),
    };
    let touched = 0;
    for (const t of touchedTables(before, after, false)) for (const v of viewers) if (shiftOf(before, after, v, v, t, counts)) touched++;
    if (touched === 0) throw new Error("The change touches nobody: there would be nothing to measure.");
    times.push(seconds(from));
  }
  return Math.min(...times);
}
