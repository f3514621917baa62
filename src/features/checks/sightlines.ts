/** The sightlines of a portal: everybody against every table, worked out in the background and remembered until something changes. */

import { draftPolicy, type Policy } from "@/core/access/policy";
import type { Definition } from "@/core/definition/definition";
import { type Cell, cellOf, Sentences } from "@/core/review/sightlines";
import { Background, type Outcome, type Pace, stampOf } from "@/data/definition/background";
import { draftOf } from "@/data/definition/draft";
import { once } from "@/data/file/per-process";
import { ManyCounter } from "@/data/records/counting/count-many";
import { countOf } from "@/data/tables/count";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { everyone, type Someone } from "@/identity/viewers/crowd";
import { namesOf } from "@/office/names";

export type Which = "live" | "draft";

export interface Line {
  /** Person and membership, as `as` in addresses has them; "visitor" for visitors. */
  readonly as: string;
  readonly name: string;
  readonly companyId: string | null;
  /** As the office shows it. */
  readonly company: string | null;
  readonly roles: readonly string[];
  readonly status: string;
  readonly cells: readonly Cell[];
}

export interface Matrix {
  readonly tables: readonly { slug: string; name: string; all: number }[];
  /** Every role that somebody can hold, held or not; `included` ones also come with others. */
  readonly roles: readonly { name: string; included: boolean }[];
  readonly sentences: readonly string[];
  readonly lines: readonly Line[];
  readonly queries: number;
  readonly took: number;
}

const reports = once("sightlines reports", () => new Background<Matrix>());

/** What everybody sees of every table; while it is being counted, how far that is. */
export function sightlines(p: OfficePortal, which: Which): Outcome<Matrix> {
  const draft = which === "draft" ? draftOf(p.file, p.owner) : null;
  return reports.ask(p.file, which, stampOf(p.file, p.live, draft?.revision ?? 0, p.now), (pace) =>
    draft ? work(p, draftPolicy(p.live.policy, draft.definition), draft.definition, pace) : work(p, p.live.policy, p.live.definition, pace),
  );
}

async function work(p: OfficePortal, policy: Policy, definition: Definition, pace: Pace): Promise<Matrix> {
  const from = performance.now();
  const people = everyone(p.file, definition, p.owner, p.now);
  const { tables } = policy.schema;
  const counter = new ManyCounter(p.file, policy.schema, p.owner);
  const sentences = new Sentences();
  const names = namesOf(p);
  const cells: Cell[][] = people.map(() => []);
  // Table by table, so that a table's grouped counts serve everybody while its pages are warm.
  for (const [t, table] of tables.entries()) {
    for (const [i, someone] of people.entries()) {
      cells[i]!.push(cellOf(policy, someone.viewer, table.id, (id, plan) => counter.count(id, plan), sentences, names));
      if (pace.due()) await pace.rest(t * people.length + i, tables.length * people.length);
    }
  }
  return {
    tables: tables.map((t) => ({ slug: t.slug, name: t.name, all: countOf(p.file, t.id) })),
    roles: definition.roles
      .filter((r) => r.side !== "visitor")
      .map((r) => ({ name: r.name, included: definition.roles.some((x) => x.includes.includes(r.id)) })),
    sentences: sentences.list,
    lines: people.map((s, i) => lineOf(s, policy, cells[i]!)),
    queries: counter.queries,
    took: Math.round(performance.now() - from),
  };
}

const lineOf = (s: Someone, policy: Policy, cells: readonly Cell[]): Line => ({
  as: s.personId ? [s.personId, s.membershipId ?? ""].join(" ").trim() : "visitor",
  name: s.name,
  companyId: s.companyId,
  company: s.company,
  roles: s.roles.map((r) => policy.role(r)?.name ?? r),
  status: s.status,
  cells,
});
