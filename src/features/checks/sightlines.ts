/**
 * The sightlines of a portal, worked out in the background and kept until something changes. One job at a time for each
 * portal and version; whoever asks meanwhile is told how far it is.
 */
import { draftPolicy, type Policy } from "@/core/access/policy";
import { type Cell, cellOf, Sentences } from "@/core/access/sightlines";
import type { Definition } from "@/core/definition";
import { dateIn } from "@/core/time/relative";
import { draftOf } from "@/data/definitions";
import { lastAct } from "@/data/everybody";
import { ManyCounter } from "@/data/records/count-many";
import { countOf } from "@/data/standing";
import { everyone, type Someone } from "@/identity/everyone";
import type { OfficePortal } from "@/identity/office-gate";
import { namesOf } from "./queries";

export type Which = "live" | "draft";

export interface Line {
  /** Person and membership, as `as` in addresses has them; "visitor" for visitors. */
  readonly as: string;
  readonly name: string;
  readonly company: string | null;
  readonly roles: readonly string[];
  readonly status: string;
  readonly cells: readonly Cell[];
}

export interface Matrix {
  readonly state: "ready";
  readonly tables: readonly { slug: string; name: string; all: number }[];
  readonly sentences: readonly string[];
  readonly lines: readonly Line[];
  readonly queries: number;
  readonly took: number;
}
export interface Working {
  readonly state: "working";
  readonly done: number;
  readonly of: number;
}

interface Job {
  readonly stamp: string;
  progress: Working;
  matrix: Matrix | null;
  failed: unknown;
}

const jobs = new Map<string, Job>();

/** What the matrix depends on; the same stamp, the same counts. */
function stampOf(p: OfficePortal, revision: number): string {
  const today = dateIn(Date.now(), p.live.definition.portal.timeZone);
  return [p.live.version, revision, p.live.policy.schema.version, lastAct(p.file), today].join(" ");
}

/** Told once to whoever asks; the next to ask begins anew. */
export interface Failed {
  readonly state: "failed";
}

export function sightlines(p: OfficePortal, which: Which): Matrix | Working | Failed {
  const draft = which === "draft" ? draftOf(p.file, p.owner) : null;
  const key = `${p.file.path} ${which}`;
  const stamp = stampOf(p, draft?.revision ?? 0);
  let job = jobs.get(key);
  if (job?.failed && job.stamp === stamp) {
    jobs.delete(key);
    console.error(job.failed);
    return { state: "failed" };
  }
  if (job?.stamp !== stamp || !job) {
    job = { stamp, progress: { state: "working", done: 0, of: 1 }, matrix: null, failed: null };
    jobs.set(key, job);
    const [policy, definition] = draft
      ? [draftPolicy(p.live.policy, draft.definition), draft.definition]
      : [p.live.policy, p.live.definition];
    const started = job;
    work(p, policy, definition, started).catch((e) => {
      started.failed = e;
    });
  }
  return job.matrix ?? job.progress;
}

/** Other requests are answered in between: the work yields after each slice of this many milliseconds. */
const SLICE = 25;

async function work(p: OfficePortal, policy: Policy, definition: Definition, job: Job): Promise<void> {
  const from = Date.now();
  const people = everyone(p.file, definition, p.owner, from);
  const { tables } = policy.schema;
  const counter = new ManyCounter(p.file, policy.schema, p.owner);
  const sentences = new Sentences();
  const names = namesOf(p);
  const cells: Cell[][] = people.map(() => []);
  let since = Date.now();
  // Table by table, so that a table's grouped counts serve everybody while its pages are warm.
  for (const [t, table] of tables.entries()) {
    for (const [i, someone] of people.entries()) {
      cells[i]!.push(cellOf(policy, someone.viewer, table.id, (id, plan) => counter.count(id, plan), sentences, names));
      if (Date.now() - since < SLICE) continue;
      job.progress = { state: "working", done: t * people.length + i, of: tables.length * people.length };
      await new Promise((next) => setImmediate(next));
      since = Date.now();
    }
  }
  job.matrix = {
    state: "ready",
    tables: tables.map((t) => ({ slug: t.slug, name: t.name, all: countOf(p.file, t.id) })),
    sentences: sentences.list,
    lines: people.map((s, i) => lineOf(s, policy, cells[i]!)),
    queries: counter.queries,
    took: Date.now() - from,
  };
}

const lineOf = (s: Someone, policy: Policy, cells: readonly Cell[]): Line => ({
  as: s.personId ? [s.personId, s.membershipId ?? ""].join(" ").trim() : "visitor",
  name: s.name,
  company: s.company,
  roles: s.roles.map((r) => policy.role(r)?.name ?? r),
  status: s.status,
  cells,
});
