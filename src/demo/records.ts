/** Fernhill's records, from a seed. Dates are relative to the day of the start, so that the demo never looks old. */
import { holdsFiles } from "@/core/schema/fields/natures";
import { fieldBySlug, type Schema, type Value } from "@/core/schema/types";
import { addDays } from "@/core/time/relative";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { insertRow } from "@/data/tables/store";
import { COMPANIES } from "./cast";
import { SIGN_MATERIALS, SIGN_TYPES } from "./drawings";
import type { Shelf } from "./files";
import { Random } from "./random";
import type { DemoTables } from "./tables";

export interface DemoContext {
  file: PortalFile;
  schema: Schema;
  t: DemoTables;
  now: number;
  today: string;
  scale: number;
  /** Company ids by key, and people ids by name. */
  companies: Map<string, string>;
  people: Map<string, string>;
  shelf: Shelf;
}

/** Values by slug; of a file, what it holds and its name. */
export type Fields = Record<string, Value>;

export function adder({ file, schema, now, shelf }: DemoContext): (table: string, values: Fields) => string {
  return (tableId, values) => {
    const table = schema.table(tableId);
    const id = newId();
    const byId = Object.fromEntries(
      Object.entries(values).map(([slug, v]) => {
        const f = fieldBySlug(table, slug);
        if (!f) throw new Error(`The demo's ${table.name} have no field ${slug}.`);
        if (holdsFiles(f)) return [f.id, v === null ? v : [shelf.take(f, id, ...(v as [string, string]))]];
        // The demo writes choices as people read them; rows hold their ids.
        const choice = f.options.choices?.find((x) => x.name === v);
        return [f.id, choice ? choice.id : v];
      }),
    );
    insertRow(file, table, id, byId, { by: "demo", at: new Date(now).toISOString() });
    return id;
  };
}

export function makeSites(c: DemoContext, add: ReturnType<typeof adder>): Map<string, string[]> {
  const r = new Random(11);
  const hours = ["Always open", "Mon to Fri 07:30 to 18:00", "Daily 09:00 to 17:30", "Daily 06:00 to 23:00"];
  return new Map(
    COMPANIES.map((co) => [
      co.key,
      co.sites.map((name) =>
        add(c.t.sites, {
          name,
          company: c.companies.get(co.key)!,
          address: `${name}, ${co.address}`,
          "opening-hours": r.pick(hours),
          "map-reference": `${r.pick(["QX", "QY", "QZ"])} ${r.int(100, 999)} ${r.int(100, 999)}`,
        }),
      ),
    ]),
  );
}

const WORKS = ["Entrance and arrival", "Level by level", "Car park and paths", "Heritage plates", "Night lighting"];
const STAGES = ["Survey", "Design", "Making", "Fitting", "Done"];

export interface Project {
  id: string;
  company: string;
  stage: string;
}

export function makeProjects(c: DemoContext, add: ReturnType<typeof adder>): Project[] {
  const r = new Random(22);
  const share = [
    ["saltmarsh", 6],
    ["pell", 5],
    ["wexcombe", 3],
    ["tarnmere", 4],
    ["brindle", 3],
    ["northgale", 1],
    ["kestrel", 2],
  ] as const;
  return share.flatMap(([company, n]) =>
    Array.from({ length: n * c.scale }, (_, i): Project => {
      const stage = i === 0 ? "Making" : r.pick(STAGES);
      const title = `${WORKS[i % WORKS.length]}${i >= WORKS.length ? ` ${Math.floor(i / WORKS.length) + 1}` : ""}`;
      const due = addDays(c.today, stage === "Done" ? -r.int(20, 200) : r.int(-5, 120));
      const id = add(c.t.projects, {
        title,
        company: c.companies.get(company)!,
        stage,
        lead: c.people.get("Ines Fairlough")!,
        due,
        summary: `${title} at ${COMPANIES.find((x) => x.key === company)!.name}: survey, drawings, making and fitting.`,
        margin: r.int(12, 41),
      });
      return { id, company, stage };
    }),
  );
}

export interface Sign {
  id: string;
  code: string;
  type: string;
  company: string;
  stage: string;
}

export function makeSigns(c: DemoContext, add: ReturnType<typeof adder>, projects: Project[], sites: Map<string, string[]>): Sign[] {
  const r = new Random(33);
  const each = new Map(projects.map((p) => [p.id, r.int(30, 70)]));
  const signs: Sign[] = [];
  const numbers = new Map<string, number>();
  for (const p of projects) {
    for (let i = 0; i < each.get(p.id)!; i++) {
      const number = (numbers.get(p.company) ?? 100) + 1;
      numbers.set(p.company, number);
      const code = `${p.company.slice(0, 2).toUpperCase()}-${number}`;
      const type = r.pick(SIGN_TYPES);
      const stage =
        p.stage === "Done"
          ? r.chance(0.06)
            ? "Repair"
            : "Fitted"
          : p.stage === "Survey"
            ? "Planned"
            : r.pick(["Planned", "Proof", "Making", "Fitted"]);
      const fitted = stage === "Fitted" || stage === "Repair" ? addDays(c.today, -r.int(3, 420)) : null;
      const site = r.pick(sites.get(p.company)!);
      const size = `${r.int(2, 24) * 50} × ${r.int(1, 12) * 50} mm`;
      const material = r.pick(SIGN_MATERIALS);
      const id = add(c.t.signs, {
        code,
        project: p.id,
        site,
        type,
        size,
        material,
        stage,
        fitted,
        photo: fitted ? [`${type} ${material}`, `${code.toLowerCase()}.jpg`] : null,
        "unit-cost": r.int(18, 900) * 100,
      });
      signs.push({ id, code, type, company: p.company, stage });
    }
  }
  add(c.t.signs, {
    code: "XX-001",
    project: null,
    site: null,
    type: "Totem",
    size: "900 × 300 mm",
    material: "Oak",
    stage: "Planned",
    fitted: null,
    photo: null,
    "unit-cost": 41000,
  });
  return signs;
}
