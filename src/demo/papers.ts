/** Fernhill's proofs, requests, invoices and documents. */

import { fieldBySlug } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { addDays } from "@/core/time/relative";
import { COMPANIES } from "./cast";
import { PAPERS } from "./files";
import { Random } from "./random";
import type { adder, DemoContext, Fields, makeSigns } from "./records";

/** Filled by `main.ts` from the cast. */
export const PEOPLE_OF = new Map<string, string[]>();

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
      file: [`Proof ${s.type}`, `${s.code.toLowerCase()}-v${version}.pdf`],
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
    `UPDATE ${sqlName(c.t.requests)} SET created_at = ${sqlName(fieldBySlug(c.schema.table(c.t.requests), "asked-on")!.id)} || 'T09:00:00.000Z'`,
  );
  // What their people asked this month counts against their plans.
  const requests = c.t.requests;
  c.file.db
    .prepare(
      `INSERT INTO sys_allowance_uses (company_id, table_id, record_id, month, at)
       SELECT ${sqlName(fieldBySlug(c.schema.table(requests), "company")!.id)}, ?, id, substr(created_at, 1, 7), CAST(round(unixepoch(created_at, 'subsec') * 1000) AS INTEGER) FROM ${sqlName(requests)}`,
    )
    .run(requests);
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
  for (let i = 0; i < 60 * c.scale; i++) {
    const co = COMPANIES[i % COMPANIES.length]!;
    const kind = PAPERS[Math.floor(i / COMPANIES.length) % PAPERS.length]!;
    const site = r.pick(co.sites);
    add(c.t.documents, {
      title: `${kind} of ${site}`,
      company: c.companies.get(co.key)!,
      kind,
      dated: addDays(c.today, -r.int(5, 500)),
      file: [kind, `${kind.toLowerCase()}-${i + 1}.pdf`],
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
