/** The cells of one column that says values itself: what each is stored as, or why it cannot be. */
import { choosesSeveral } from "@/core/schema/fields/natures";
import { kindOf } from "@/core/schema/types";
import { storedValue } from "../../tables/store";
import type { FileReader } from "../reading/beside";
import type { StagedColumn } from "../reading/planned";
import type { ChoiceReader } from "./chosen";

export type Cell = string | number | null;
export interface Problem {
  readonly reason: string;
}
export const problem = (reason: string): Problem => ({ reason });
export const isProblem = (x: unknown): x is Problem => typeof x === "object" && x !== null && "reason" in x;

export type ReadCell = (text: string, record: string | null) => Cell | Problem;

/** Texts whose reading is kept: columns of a few words say them over and over. */
const MOST_KEPT = 500;

export function cellReader(c: StagedColumn, timeZone: string, files: FileReader | undefined, choices: ChoiceReader | undefined): ReadCell {
  if (files)
    return (text, record) => {
      const named = files.read(text, record);
      return named.ok ? storedValue(named.value) : problem(named.error);
    };
  const kind = kindOf(c.field);
  const reading = { order: c.order, timeZone, ...(c.mark ? { mark: c.mark } : {}) };
  const one = (text: string): Cell | Problem => {
    const chosen = choices?.read(text);
    if (chosen?.ok) return choosesSeveral(c.field) ? storedValue(chosen.value) : (chosen.value[0] ?? null);
    if (chosen) return problem(chosen.error);
    const read = kind.parse([text], c.field, reading);
    return read.ok ? storedValue(read.value) : problem(read.error);
  };
  let kept: Map<string, Cell> | null = new Map();
  return (text) => {
    const before = kept?.get(text);
    if (before !== undefined) return before;
    const cell = one(text);
    // A problem is found anew each time, since it is counted.
    if (kept && !isProblem(cell) && kept.set(text, cell).size > MOST_KEPT) kept = null;
    return cell;
  };
}
