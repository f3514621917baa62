/** Publishing in a portal with a large table: everybody else waits as long as it holds the thread of the requests. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { changeDraft, draftOf } from "@/data/definition/draft";
import { published, storePublished } from "@/data/definition/published";
import { emptyDefinition } from "@/data/installation/portals";
import { publish, uphold } from "@/data/publishing/publish";
import { makePolicyIndexes } from "@/data/tables/indexes";
import { median, print, round } from "./measure";
import { makeWorld } from "./world";

const ROWS = 250_000;
const TIMES = 9;

const ms = (act: () => unknown): number => {
  const from = performance.now();
  act();
  return performance.now() - from;
};

export function benchPublish(): void {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-bench-"));
  try {
    const w = makeWorld(join(folder, "w.db"), ROWS);
    const owner = { ...w.viewer, kind: "owner", company: null, person: null, now: 1_780_000_000_000 } as unknown as Owner;
    const { roles, walls, grants } = w.policy.rules;
    // Another field that grants compare: the index of the table is to be another.
    const other =
      (n: number) =>
      (d: Definition): Definition => ({
        ...d,
        grants: d.grants.map((g) => ({
          ...g,
          filter:
            g.table === w.signs
              ? ({ kind: "test" as const, path: [w.fields[n % 2 ? "size" : "fitted"]!], operator: "is-empty", operands: [] } as never)
              : null,
        })),
      });
    const rules = emptyDefinition("Bench");
    const begun = { ...rules, roles: [...rules.roles, ...roles], walls: { ...rules.walls, ...walls }, grants } as unknown as Definition;
    storePublished(w.file, other(0)(begun), { actor: actorOf(owner), name: "", at: 1_780_000_000_000 });
    const goes = (change: (d: Definition) => Definition): number => {
      const draft = draftOf(w.file, owner);
      const done = changeDraft(w.file, owner, draft.revision, change, "bench");
      if (!done.ok) throw new Error(JSON.stringify(done.error));
      const upheld = uphold(draftOf(w.file, owner), new Set())!;
      return ms(() => {
        const sent = publish(w.file, owner, upheld);
        if (!sent.ok) throw new Error(JSON.stringify(sent.error));
      });
    };
    const motto = (n: number) => (d: Definition) => ({ ...d, brand: { ...d.brand, motto: `Words ${n}` } });
    const all: number[] = [];
    const grant: number[] = [];
    const words: number[] = [];
    for (let n = 0; n < TIMES; n++) {
      words.push(goes(motto(n)));
      grant.push(goes(other(n + 1)));
      // What the thread does afterwards, and what publishing did of every table before.
      all.push(ms(() => makePolicyIndexes(w.file, published(w.file).policy, w.signs)));
    }
    const of = (xs: number[]): string =>
      `x making the one index that changed (${round(median(all))} ms), publishing took ${round(median(xs))} ms`;
    print({ name: `publish other words, ${ROWS} rows`, ratio: round(median(words) / median(all)), unit: of(words), goal: "<= 0.25" });
    print({ name: `publish another grant, ${ROWS} rows`, ratio: round(median(grant) / median(all)), unit: of(grant), goal: "<= 0.25" });
    w.file.db.close();
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
