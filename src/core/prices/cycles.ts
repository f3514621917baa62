/**
 * How often a price is paid. A new cycle is a line here: periods, worth, changes, forms and words follow it, and what has no words for it
 * does not compile. One that is no number of months needs another way to count periods (`startOf`), which does not compile before it has one.
 */
interface CycleKind {
  /** Calendar months in a period. */
  readonly months: number;
  /** As the back office says it: "12 a month". */
  readonly each: string;
  /** The same of a price by the seat. */
  readonly eachSeat: string;
  /** In a list of cycles. */
  readonly name: string;
}

export const CYCLES = {
  month: { months: 1, each: "a month", eachSeat: "a seat and month", name: "month" },
  year: { months: 12, each: "a year", eachSeat: "a seat and year", name: "year" },
} as const satisfies Record<string, CycleKind>;

export type Cycle = keyof typeof CYCLES;
/** The shortest first. */
export const CYCLE_IDS = (Object.keys(CYCLES) as [Cycle, ...Cycle[]]).sort((a, b) => CYCLES[a].months - CYCLES[b].months) as [
  Cycle,
  ...Cycle[],
];

/** Months that one period has. */
export const monthsOf = (cycle: Cycle): number => CYCLES[cycle].months;
/** The cycle as words after a price, such as "a month". */
export const eachOf = (cycle: Cycle): string => CYCLES[cycle].each;
