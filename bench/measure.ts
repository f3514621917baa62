/** Ratios within one run: the two take turns, and the median of the pairs counts. */
export interface Line {
  name: string;
  ratio?: number;
  value?: number;
  unit: string;
  goal: string;
}

export const print = (l: Line): void => console.log(JSON.stringify(l));

const time = (act: () => unknown, times: number): number => {
  const from = process.hrtime.bigint();
  for (let i = 0; i < times; i++) act();
  return Number(process.hrtime.bigint() - from) / times / 1000;
};

export const median = (xs: readonly number[]): number => [...xs].sort((a, b) => a - b)[Math.floor(xs.length / 2)]!;

const WARM_UP = 800; // ms

/** Median time of each, in microseconds, and the median of their ratios. */
export function against(
  ours: () => unknown,
  bare: () => unknown,
  { rounds = 41, times = 20, before = (_: number): void => {} } = {},
): { ours: number; bare: number; ratio: number } {
  // Both as a running server has them after a while: compiled by the engine, their pages in memory.
  for (const until = Date.now() + WARM_UP; Date.now() < until; ) {
    before(times);
    time(ours, times);
    time(bare, times);
  }
  const a: number[] = [];
  const b: number[] = [];
  for (let i = 0; i < rounds; i++) {
    before(times); // not counted: what another part of the system has made by then
    a.push(time(ours, times));
    b.push(time(bare, times));
  }
  return { ours: median(a), bare: median(b), ratio: median(a.map((x, i) => x / b[i]!)) };
}

export const round = (n: number): number => Math.round(n * 100) / 100;
