/** Conversations in progress on six requests: a client asks, the project lead answers, and notes something for the workshop. */

import { fieldBySlug } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { newId } from "@/data/file/ids";
import { talk } from "@/data/file/portal-tables";
import type { DemoContext } from "./records";

const HOUR = 3_600_000;
const ASKED = [
  "Could somebody look at this before the weekend? The ward moves on Monday.",
  "Visitors keep walking past it. Is there anything you can do at once?",
  "We have a photograph if it helps. It is worst in the morning.",
];
const ANSWERED = [
  "We were there this morning. The plate comes back on Thursday, and we fit it the same day.",
  "A paper sign is up for now. The new face is being cut.",
  "Thank you, that helps. We bring two of them and try both on the spot.",
];

export function makeTalk(c: DemoContext): void {
  const table = c.schema.table(c.t.requests);
  const id = (slug: string): string => fieldBySlug(table, slug)!.id;
  const under = fieldBySlug(table, "status")!.options.choices!.find((x) => x.name === "Under way")!.id;
  const found = c.file.db
    .prepare(
      `SELECT id, ${sqlName(id("company"))} AS company, ${sqlName(id("asked-by"))} AS who FROM ${sqlName(table.id)} WHERE ${sqlName(id("status"))} = ? AND ${sqlName(id("asked-by"))} IS NOT NULL ORDER BY id`,
    )
    .all(under) as { id: string; company: string; who: string }[];
  // Two of Saltmarsh's, which the demo is mostly looked at as, and of others one each.
  const saltmarsh = c.companies.get("saltmarsh");
  const others = new Map(found.filter((r) => r.company !== saltmarsh).map((r) => [r.company, r]));
  const six = [...found.filter((r) => r.company === saltmarsh).slice(0, 2), ...others.values()].slice(0, 6);
  const lead = c.people.get("Ines Fairlough")!;
  for (const [i, r] of six.entries()) {
    const said = (authorId: string, body: string, hoursAgo: number, inside = 0): void => {
      const at = c.now - hoursAgo * HOUR;
      c.file.orm
        .insert(talk)
        .values({ id: newId(), tableId: table.id, recordId: r.id, companyId: r.company, inside, authorKind: "person", authorId, body, at })
        .run();
    };
    said(r.who, ASKED[i % ASKED.length]!, 50 - i * 3);
    said(lead, ANSWERED[i % ANSWERED.length]!, 26 - i * 2);
    if (i % 2 === 0) said(lead, "Tobias: take the long ladder, and the spare brackets.", 25 - i * 2, 1);
    if (i % 3 === 0) said(r.who, "That is quick. Thank you!", 20 - i);
  }
}
