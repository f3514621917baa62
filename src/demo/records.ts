/** Fernhill's records, from a seed. Dates are relative to the day of the start, so that the demo never looks old. */
import { fieldBySlug, type Schema, type Value } from "@/core/schema/types";
import { addDays } from "@/core/time/relative";
import { newId } from "@/data/ids";
import type { PortalFile } from "@/data/open";
import { insertRow } from "@/data/records/store";
import { COMPANIES } from "./cast";
import { Random } from "./random";
import type { DemoTables } from "./tables";

export interface DemoContext {
  file: PortalFile;
  schema: Schema;
  t: DemoTables;
  today: string;
  scale: number;
  /** Company ids by key, and people ids by name. */
  companies: Map<string, string>;
  people: Map<string, string>;
}

type Fields = Record<string, Value>;

export function adder({ file, schema }: DemoContext): (table: string, values: Fields) => string {
  return (tableId, values) => {
    const table = schema.table(tableId);
    const byId = Object.fromEntries(
      Object.entries(values).map(([slug, v]) => {
        const f = fieldBySlug(table, slug);
        if (!f) throw new Error(`The demo's ${table.name} have no field ${slug}.`);
        return [f.id, v];
      }),
    );
    const id = newId();
    insertRow(file, table, id, byId, "demo");
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

const TYPES = ["Totem", "Hanging", "Wall plate", "Door plate", "Floor line", "Directory"];
const MATERIALS = ["Aluminium", "Oak", "Vitreous enamel", "Recycled acrylic", "Slate"];

export function makeSigns(
  c: DemoContext,
  add: ReturnType<typeof adder>,
  projects: Project[],
  sites: Map<string, string[]>,
): { id: string; code: string; company: string; stage: string }[] {
  const r = new Random(33);
  const each = new Map(projects.map((p) => [p.id, r.int(30, 70)]));
  const signs: { id: string; code: string; company: string; stage: string }[] = [];
  const numbers = new Map<string, number>();
  for (const p of projects) {
    for (let i = 0; i < each.get(p.id)!; i++) {
      const number = (numbers.get(p.company) ?? 100) + 1;
      numbers.set(p.company, number);
      const code = `${p.company.slice(0, 2).toUpperCase()}-${number}`;
      const type = r.pick(TYPES);
      const stage =
        p.stage === "Done"
          ? r.chance(0.06)
            ? "Repair"
            : "Fitted"
          : p.stage === "Survey"
            ? "Planned"
            : r.pick(["Planned", "Proof", "Making", "Fitted"]);
      const fitted = stage === "Fitted" || stage === "Repair" ? addDays(c.today, -r.int(3, 420)) : null;
      const id = add(c.t.signs, {
        code,
        project: p.id,
        site: r.pick(sites.get(p.company)!),
        type,
        size: `${r.int(2, 24) * 50} × ${r.int(1, 12) * 50} mm`,
        material: r.pick(MATERIALS),
        stage,
        fitted,
        photo: fitted ? `${code.toLowerCase()}.jpg` : null,
        "unit-cost": r.int(18, 900) * 100,
      });
      signs.push({ id, code, company: p.company, stage });
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

export function makePapers(
  c: DemoContext,
  add: ReturnType<typeof adder>,
  signs: ReturnType<typeof makeSigns>,
  sites: Map<string, string[]>,
): void {
  const r = new Random(44);
  const out = signs.filter((s) => s.stage !== "Planned");
  for (let i = 0; i < 140 * c.scale; i++) {
    const s = r.pick(out);
    const version = r.int(1, 4);
    const decision = s.stage === "Proof" ? r.pick(["Waiting", "Waiting", "Changes wanted"]) : "Approved";
    add(c.t.proofs, {
      title: `Proof of ${s.code}, version ${version}`,
      sign: s.id,
      version,
      file: `${s.code.toLowerCase()}-v${version}.pdf`,
      decision,
      sent: addDays(c.today, -r.int(1, 160)),
      note: decision === "Changes wanted" ? "The arrow should point left from this side." : null,
    });
  }
  const weights = [
    "saltmarsh",
    "saltmarsh",
    "saltmarsh",
    "pell",
    "pell",
    "tarnmere",
    "tarnmere",
    "brindle",
    "wexcombe",
    "kestrel",
    "northgale",
  ];
  const subjects = [
    "Door plate has come loose",
    "Arrow points the wrong way",
    "New name for a room",
    "Letters are fading",
    "Light flickers at night",
    "Plate missing after works",
    "Question about cleaning",
    "Extra directory wanted",
  ];
  for (let i = 0; i < 177 * c.scale; i++) {
    const company = r.pick(weights);
    const asked = addDays(c.today, -r.int(32, 400));
    add(
      c.t.requests,
      request(c, r, company, sites, asked, r.chance(0.7) ? "Closed" : r.pick(["New", "Planned", "Under way"]), r.pick(subjects)),
    );
  }
  for (const [company, subject] of [
    ["wexcombe", "Plate missing after works"],
    ["saltmarsh", "Light flickers at night"],
    ["pell", "New name for a room"],
  ] as const) {
    add(c.t.requests, request(c, r, company, sites, c.today, "New", subject));
  }
  c.file.db.exec(
    `UPDATE "${c.t.requests}" SET created_at = "${fieldBySlug(c.schema.table(c.t.requests), "asked-on")!.id}" || 'T09:00:00.000Z'`,
  );
  let number = 4100;
  for (const co of COMPANIES) {
    for (let i = 0; i < (co.key === "saltmarsh" ? 18 : 12) * c.scale; i++) {
      const issued = addDays(c.today, -30 * i - r.int(1, 20));
      const late = (co.key === "tarnmere" || co.key === "northgale") && i === 0;
      add(c.t.invoices, {
        number: `F-${++number}`,
        company: c.companies.get(co.key)!,
        issued,
        due: addDays(issued, 30),
        amount: r.int(90, 4200) * 100,
        status: late ? "Overdue" : i === 0 ? "Open" : "Paid",
      });
    }
  }
  const kinds = ["Drawing", "Survey", "Warranty", "Report"];
  for (let i = 0; i < 60 * c.scale; i++) {
    const co = COMPANIES[i % COMPANIES.length]!;
    const kind = kinds[Math.floor(i / COMPANIES.length) % kinds.length]!;
    const site = r.pick(co.sites);
    add(c.t.documents, {
      title: `${kind} of ${site}`,
      company: c.companies.get(co.key)!,
      kind,
      dated: addDays(c.today, -r.int(5, 500)),
      file: `${kind.toLowerCase()}-${i + 1}.pdf`,
    });
  }
}

function request(
  c: DemoContext,
  r: Random,
  company: string,
  sites: Map<string, string[]>,
  asked: string,
  status: string,
  subject: string,
): Fields {
  const staff = [...c.people].filter(([name]) => PEOPLE_OF.get(company)?.includes(name));
  return {
    subject,
    company: c.companies.get(company)!,
    kind: r.pick(["Repair", "New sign", "Wording change", "Question"]),
    urgency: r.pick(["Can wait", "Can wait", "This week", "Today"]),
    site: r.pick(sites.get(company)!),
    status,
    "asked-on": asked,
    "asked-by": staff.length > 0 ? r.pick(staff)[1] : null,
    message: `${subject}. Please have a look when you are next on site.`,
    "internal-note": r.chance(0.3) ? "Check the warranty before quoting." : null,
  };
}

/** Filled by `main.ts` from the cast. */
export const PEOPLE_OF = new Map<string, string[]>();

const RULES: [string, string, string][] = [
  ["Totem", "Sign type", "Stands at a place of decision; lists at most five destinations."],
  ["Hanging sign", "Sign type", "Hangs across the way, lower edge at least 2.4 m above the floor."],
  ["Door plate", "Sign type", "Beside the door on the handle side, 1.5 m to its centre."],
  ["Letter height", "Legibility", "One centimetre of letter for each three metres of reading distance."],
  ["Contrast of letters", "Legibility", "Light on dark or dark on light; never colour against colour alone."],
  ["Words before symbols", "Legibility", "A symbol stands beside a word unless everybody knows it."],
  ["Arrow order", "Placing", "Straight on first, then left, then right."],
  ["One message a line", "Legibility", "A line that wraps is two messages: shorten it."],
  ["Reassurance", "Placing", "A destination once named is named again until it is reached."],
  ["Cleaning", "Upkeep", "Water and a soft cloth; no solvent on enamel or acrylic."],
];

export function makeShared(c: DemoContext, add: ReturnType<typeof adder>): void {
  for (let i = 0; i < 25; i++) {
    const [title, kind, rule] = RULES[i % RULES.length]!;
    add(c.t.standards, {
      title: i < RULES.length ? title : `${title}, ${["outdoors", "indoors", "at night"][Math.floor(i / RULES.length)]!}`,
      kind,
      rule,
    });
  }
  const r = new Random(55);
  const items = [
    "Survey",
    "Drawing",
    "Vinyl cutting",
    "Oak blank",
    "Aluminium tray",
    "Enamel firing",
    "Fitting by two",
    "Lift hire",
    "Travel",
    "Paint",
  ];
  for (let i = 0; i < 40; i++)
    add(c.t.prices, {
      item: `${items[i % items.length]}${i >= items.length ? `, class ${Math.floor(i / items.length) + 1}` : ""}`,
      unit: r.pick(["each", "hour", "metre"]),
      rate: r.int(8, 260) * 100,
    });
}
