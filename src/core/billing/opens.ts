/** What an offer opens once it is bought. A new kind of offer does not compile until each function here says what it does. */
import { assertNever } from "../assert-never";
import type { Offer } from "../definition/parts/plans";

export type Opens = Offer["opens"];

/** What stands open afterwards, beside the plan: a feature, or single records. Nothing where it opens nothing by itself. */
export interface Opened {
  readonly kind: "feature" | "record";
  readonly ref: string;
}

/** `records`: those that were chosen, or that its filter had, as it was bought. */
export function openedBy(opens: Opens, records: readonly string[]): readonly Opened[] {
  switch (opens.kind) {
    case "feature":
      return [{ kind: "feature", ref: opens.feature }];
    case "record":
    case "set":
      return records.map((ref) => ({ kind: "record", ref }));
    case "order":
    case "top-up":
      return [];
    default:
      return assertNever(opens);
  }
}

/** How the records that it opens are found: one is chosen by the buyer, or all that a filter has; null where it opens none. */
export function recordsOpened(opens: Opens): "one" | "all" | null {
  switch (opens.kind) {
    case "record":
      return "one";
    case "set":
      return "all";
    case "order":
    case "feature":
    case "top-up":
      return null;
    default:
      return assertNever(opens);
  }
}
