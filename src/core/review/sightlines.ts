/** The matrix of everybody by tables, from counts that somebody else takes: pure, and one cell at a time. */
import { type CountPlan, countPlan, hiddenFields } from "../access/counting";
import type { Policy } from "../access/policy";
import { scope } from "../access/scope";
import type { Viewer } from "../access/who/viewer";
import { type Names, reasonSentence } from "../access/words/wording";

/** Rows seen, changed and removed; fields never seen and fields seen on some rows only; for a zero, why (-1: nothing to say). */
export type Cell = readonly [seen: number, changed: number, removed: number, hidden: number, partly: number, why: number];

/** How many rows a plan holds of; the same for plans of the same key. */
export type Count = (table: string, plan: CountPlan) => number;

/** Sentences that many cells share, each held once. */
export class Sentences {
  readonly list: string[] = [];
  readonly #at = new Map<string, number>();
  add(text: string): number {
    let i = this.#at.get(text);
    if (i === undefined) {
      i = this.list.push(text) - 1;
      this.#at.set(text, i);
    }
    return i;
  }
}

/** What one person sees of one table, with the reasons. */
export function cellOf(policy: Policy, viewer: Viewer, table: string, count: Count, sentences: Sentences, names: Names): Cell {
  const plan = countPlan(policy, viewer, table, ["see"]);
  const seen = count(table, plan);
  if (seen === 0) return [0, 0, 0, 0, 0, sentences.add(whyNothing(policy, viewer, table, plan, names))];
  const also = (action: "change" | "remove"): number => count(table, countPlan(policy, viewer, table, ["see", action]));
  const hidden = hiddenFields(policy, viewer, table);
  return [seen, also("change"), also("remove"), hidden.never.length, hidden.partly.length, -1];
}

/** Why a viewer sees none of a table, as a sentence or two. */
export function whyNothing(policy: Policy, viewer: Viewer, table: string, plan: CountPlan, names: Names): string {
  const s = scope(policy, viewer, table);
  if (s.grants.length === 0) return [...new Set(s.reasons.map((r) => reasonSentence(policy, r, names)))].join(" ");
  const { name } = policy.schema.table(table);
  if (plan.kind === "grouped" && plan.keyed && plan.keyed.values.length === 0)
    return `The grant on ${name} compares with a value of the person that is empty, so nothing matches.`;
  return `No record of ${name} fits the grants that count.`;
}
