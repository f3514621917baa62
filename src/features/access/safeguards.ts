/** Whether the draft keeps its safeguards, worked out in the background and remembered until something changes. */

import { Background, type Outcome, type Pace, stampOf, stampOfRules } from "@/data/definition/background";
import { type Draft, draftOf } from "@/data/definition/draft";
import { once } from "@/data/file/per-process";
import { type Upheld, uphold } from "@/data/publishing/publish";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { type AccessView, checking, holds, type Verdict } from "@/office/checking";
import { accessView } from "./queries";

const reports = once("safeguards reports", () => new Background<Verdict[]>());

/** What the safeguards came to under the draft, or how far the check is. */
export function safeguardsOf(p: OfficePortal): Promise<Outcome<Verdict[]>> {
  const v = accessView(p);
  return reports.soon(p.file, "safeguards", stampOf(p.file, p.live, v.revision, p.now), (pace) => check(p, v, pace));
}

/** How many are broken, as last checked: records, purchases and days break them too, without a draft. */
export async function brokenLately(p: OfficePortal): Promise<number> {
  const { definition, revision } = draftOf(p.file, p.owner);
  if (definition.safeguards.length === 0) return 0;
  const stamp = stampOf(p.file, p.live, revision, p.now);
  const work = (pace: Pace): Promise<Verdict[]> => check(p, accessView(p), pace);
  const verdicts = await reports.lately(p.file, "safeguards", stamp, work, stampOfRules(p.live, revision));
  return verdicts?.filter((v) => !holds(v)).length ?? 0;
}

/** Waits for the whole check, however long it takes: what publishing asks for. Where it cannot be made, nothing is upheld. */
export async function upheld(p: OfficePortal): Promise<{ draft: Draft; upheld: Upheld | "broken" | "unchecked" }> {
  const draft = draftOf(p.file, p.owner);
  const v = accessView(p);
  const stamp = stampOf(p.file, p.live, v.revision, p.now);
  const verdicts = await reports.whole(p.file, "safeguards", stamp, (pace) => check(p, v, pace)).catch(() => null);
  if (!verdicts) return { draft, upheld: "unchecked" };
  return { draft, upheld: uphold(draft, new Set(verdicts.filter(holds).map((x) => x.safeguard.id))) ?? "broken" };
}

async function check(p: OfficePortal, v: AccessView, pace: Pace): Promise<Verdict[]> {
  const work = checking(p, v);
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    if (pace.due()) await pace.rest(...step.value);
  }
}
