/** What a home page of eight sections loads, without drawing it, against the same questions asked of SQLite by hand. And fill rules. */
import { spawnSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Fill, filled } from "@/core/forms/fill";
import type { Section, SectionOf } from "@/core/pages/page";
import type { Test } from "@/core/schema/condition";
import { published } from "@/data/definition/published";
import { closeFiles, type PortalFile, portalFile } from "@/data/file/open";
import { actingOf } from "@/data/people/acting";
import { measured } from "@/data/records/counting/measure";
import { allPagesFor, shownSections } from "@/features/portal/pages-for";
import { fillWorld } from "@/features/portal/records/filling";
import { chartView } from "@/features/portal/sections/chart/load";
import { besideNeeded } from "@/features/portal/sections/list/beside";
import { fewOf } from "@/features/portal/sections/list/load";
import { portalRequest } from "@/features/portal/testing";
import type { PortalRequest } from "@/identity/requests/request";
import { viewerOf } from "@/identity/viewers/viewer";
import { testPortal } from "@/testing/portal";
import { against, print, round } from "./measure";

const SECTIONS = 8;
const SCALE = "20";

export function benchHome(): void {
  const data = mkdtempSync(join(tmpdir(), "elkhorn-bench-home-"));
  const before = process.env.ELKHORN_DATA;
  process.env.ELKHORN_DATA = data;
  try {
    const made = spawnSync("node_modules/.bin/tsx", ["src/demo/main.ts", "3000", SCALE], {
      env: { ...process.env, ELKHORN_DATA: data },
      encoding: "utf8",
    });
    if (made.status !== 0) throw new Error(made.stderr);
    const file = portalFile("fernhill")!;
    const heard = hear(file);
    const r = danas(file);
    const page = allPagesFor(r).at("", false)!;
    const sections = shownSections(r, page, null)
      .filter((s) => s.kind !== "welcome")
      .slice(0, SECTIONS);
    const load = (): void => {
      for (const s of sections) loadOne(r, s);
    };
    load();
    heard.length = 0;
    load();
    const asked = [...heard];
    if (process.argv.includes("--why"))
      for (const s of sections) {
        heard.length = 0;
        const from = process.hrtime.bigint();
        for (let i = 0; i < 50; i++) loadOne(r, s);
        const ms = Number(process.hrtime.bigint() - from) / 5e7;
        const texts = heard.slice(0, heard.length / 50);
        const bare = texts.map(({ sql, values }) => ({ statement: file.db.prepare<unknown[]>(sql).raw(), values }));
        heard.length = 0;
        const since = process.hrtime.bigint();
        for (let i = 0; i < 50; i++) for (const { statement, values } of bare) statement.all(...values);
        console.log(
          s.kind,
          s.title,
          texts.length,
          "statements,",
          round(ms),
          "ms against",
          round(Number(process.hrtime.bigint() - since) / 5e7),
        );
        for (const { sql } of texts) console.log("   ", sql.slice(0, 150));
      }
    const bare = asked.map(({ sql, values }) => ({ statement: file.db.prepare<unknown[]>(sql).raw(), values }));
    const { ratio, ours } = against(load, () => {
      for (const { statement, values } of bare) statement.all(...values);
    });
    const unit = `x the same ${asked.length} questions asked of SQLite by hand (${round(ours / 1000)} ms, ${sections.length} sections)`;
    print({ name: "loading a home page", ratio: round(ratio), unit, goal: "<= 1.15" });
    print({
      name: "statements of a home page's sections",
      value: asked.length,
      unit: `for ${sections.length} sections`,
      goal: `<= ${2 * sections.length}`,
    });
  } finally {
    closeFiles();
    if (before === undefined) delete process.env.ELKHORN_DATA;
    else process.env.ELKHORN_DATA = before;
    rmSync(data, { recursive: true, force: true });
  }
  benchFill();
}

/** What is asked of the file from now on, with its values: those of each question as it was asked last. */
function hear(file: PortalFile): { sql: string; values: unknown[] }[] {
  const heard: { sql: string; values: unknown[] }[] = [];
  const { db } = file;
  const prepare = db.prepare.bind(db);
  db.prepare = ((sql: string) => {
    const statement = prepare<unknown[]>(sql);
    for (const name of ["all", "get"] as const) {
      const ask = statement[name].bind(statement);
      statement[name] = ((...values: unknown[]) => {
        heard.push({ sql, values });
        return ask(...values);
      }) as never;
    }
    return statement;
  }) as never;
  return heard;
}

function danas(file: PortalFile): PortalRequest {
  const id = file.db.prepare("SELECT id FROM t_people WHERE f_person_email = 'dana@saltmarsh.example'").pluck().get() as string;
  const now = Date.now();
  file.meta.look();
  return portalRequest(file, viewerOf(file, actingOf(file, id)!, null, now), "/", published(file));
}

function loadOne(r: PortalRequest, s: Section): void {
  if (s.kind === "list") {
    const { source, ...settings } = s.config;
    const table = r.desk.schema.table(source.table);
    const { newest } = fewOf(r, table, source, settings, null);
    besideNeeded(r, table, settings, newest);
  } else if (s.kind === "figures")
    for (const x of s.config.items) measured(r.desk, x.source.table, { condition: x.source.filter }, { measure: x.measure, of: x.of });
  else if (s.kind === "chart") chartView(r, s);
}

/** Fifty lines over ten fields, worked out as at each key that is pressed. */
function benchFill(): void {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "signs" }] });
  const r = portalRequest(p.file, p.person("Dana", "One", "lead").viewer);
  const table = p.table("signs");
  const field = (slug: string) => table.fields.find((f) => f.slug === slug)!;
  const test = (slug: string, operator: Test["operator"], value: string | number | boolean): Test => ({
    kind: "test",
    path: [field(slug).id],
    operator,
    operands: [{ kind: "literal", value }],
  });
  const rules: Fill[] = ["note", "size", "cost", "fitted", "lit"].map((slug, k) => ({
    id: slug,
    field: field(slug).id,
    while: "always",
    lines: Array.from({ length: 10 }, (_, i) => ({
      when: { kind: "all" as const, of: [test("code", "is", `S-${i}`), test("contact", "is", `x${k}@sign.example`)] },
      value: { kind: "literal" as const, value: slug === "note" || slug === "fitted" ? "2026-11-27" : i },
    })),
    otherwise: null,
  }));
  const values = { [field("code").id]: "S-9", [field("contact").id]: "x4@sign.example" };
  const world = fillWorld(r, { config: { table: table.id } } as SectionOf<"form">);
  const once = (): void => void filled(rules, values, new Set(), (id) => ({ id, numeric: false }), world);
  const { ours } = against(once, () => undefined, { rounds: 21, times: 50 });
  print({ name: "fill rules of fifty lines", value: round(ours / 1000), unit: "ms a keystroke", goal: "< 1" });
}
