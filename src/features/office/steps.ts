/** The order of the work, each step with its state in numbers. */

import type { ReactNode } from "react";
import { mayInOffice, type OfficeRole, type Right } from "@/core/access/who/office";
import { draftOf } from "@/data/definition/draft";
import { peopleWith } from "@/data/people/directory";
import { countsOf } from "@/data/tables/count";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { waitingIn } from "@/office/waiting";
import { plural } from "@/office/words";

export interface Step {
  readonly path: string;
  /** Other parts of the same step. */
  readonly also?: readonly string[];
  readonly name: string;
  readonly state: string;
  /** What waits for the owner, shown in the ember colour. */
  readonly waits?: ReactNode;
}

/** What each step asks of whoever opens it. */
const ASKS: readonly (readonly [path: string, right: Right])[] = [
  ["data", "records"],
  ["people", "people"],
  ["access", "build"],
  ["pages", "build"],
  ["brand", "build"],
  ["plans", "bill"],
  ["sightlines", "records"],
  ["publish", "build"],
];
/** Paths of the steps that a role of the back office may open, in their order. */
export const stepsOpenTo = (role: OfficeRole): string[] => ASKS.filter(([, right]) => mayInOffice(role, right)).map(([path]) => path);

/** `checked`: what the safeguards came to; it may come after the rest of the page. */
export function workSteps(p: OfficePortal, checked: ReactNode): Step[] {
  const { schema } = p.live.policy;
  const ordinary = schema.tables.filter((t) => t.kind === "ordinary");
  const counts = countsOf(p.file, [...ordinary.map((t) => t.id), "t_people", "t_companies"]);
  const countOf = (table: string): number => counts.get(table) ?? 0;
  const records = ordinary.reduce((n, t) => n + countOf(t.id), 0);
  const draft = draftOf(p.file, p.owner);
  const d = draft.definition;
  const waiting = waitingIn(p);
  const active = peopleWith(p.file, p.owner, "active");
  const open = new Set(stepsOpenTo(p.staff.role));
  const steps: Step[] = [
    {
      path: "data",
      also: ["connections"],
      name: "Data",
      state: `${plural(p, ordinary.length, "table", "tables")}, ${plural(p, records, "record", "records")}`,
    },
    {
      path: "people",
      name: "People and companies",
      state: `${plural(p, countOf("t_people"), "person", "people")}, ${plural(p, countOf("t_companies"), "company", "companies")}`,
      ...(waiting > 0 ? { waits: `${waiting} to approve` } : {}),
    },
    {
      path: "access",
      name: "Access",
      state: `${plural(p, d.roles.length, "role", "roles")}, ${plural(p, d.grants.length, "grant", "grants")}`,
    },
    {
      path: "pages",
      name: "Pages",
      state: plural(p, new Set(d.grants.filter((g) => g.actions.includes("see")).map((g) => g.table)).size, "list", "lists"),
    },
    { path: "brand", also: ["addresses"], name: "Brand", state: d.brand.colour },
    { path: "plans", name: "Plans", state: plural(p, d.plans.length, "plan", "plans") },
    {
      path: "sightlines",
      also: ["check", "findings", "safeguards", "log"],
      name: "Check",
      state: `${active} of ${plural(p, countOf("t_people"), "person", "people")} active`,
      waits: checked,
    },
    { path: "publish", name: "Publish", state: `version ${p.live.version} is live`, ...(draft.changed ? { waits: "a draft waits" } : {}) },
  ];
  return steps.filter((s) => open.has(s.path));
}
