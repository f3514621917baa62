/** What is open to a company, and by what: its plan, what it bought once, what was given by hand. Each with its reason in words. */
import type { State } from "./subscription";

export interface Standing {
  readonly state: State | "none";
  /** The last day of that state, where it has one (ISO date). */
  readonly until: string | null;
}

/** Something opened beside the plan. `until` is its last day. */
export interface Opened {
  readonly feature: string;
  readonly until: string | null;
  /** "given by Rosalind", "bought: Reports for a month". */
  readonly why: string;
}

export interface Open {
  readonly feature: string;
  readonly why: string;
}

const SHUT = new Set<Standing["state"]>(["none", "lapsed", "paused"]);
export const isOpenIn = (s: Standing, day: string): boolean => !SHUT.has(stateOn(s, day));

/** By the day, so that nothing has to run at midnight for a door to close. */
export function stateOn(s: Standing, day: string): Standing["state"] {
  const ends = s.state === "trial" || s.state === "grace" || s.state === "ending";
  return ends && s.until !== null && s.until < day ? "lapsed" : s.state;
}

const still = (o: Opened, day: string): boolean => o.until === null || day <= o.until;

/** Every feature once, by the first that opens it. */
export function openTo(
  plan: { readonly name: string; readonly features: readonly string[] } | null,
  standing: Standing,
  beside: readonly Opened[],
  day: string,
): Open[] {
  const found = new Map<string, string>();
  if (plan && isOpenIn(standing, day))
    for (const f of plan.features)
      found.set(f, standing.until ? `by the plan ${plan.name}, until ${standing.until}` : `by the plan ${plan.name}`);
  for (const o of beside) if (still(o, day) && !found.has(o.feature)) found.set(o.feature, o.until ? `${o.why}, until ${o.until}` : o.why);
  return [...found].map(([feature, why]) => ({ feature, why }));
}
