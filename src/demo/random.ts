/** A seeded generator, so that the demo is the same each time (mulberry32, public domain). */
export class Random {
  constructor(private state: number) {}
  /** In [0, 1). */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }
  int = (from: number, to: number): number => from + Math.floor(this.next() * (to - from + 1));
  pick = <T>(xs: readonly T[]): T => xs[Math.floor(this.next() * xs.length)]!;
  chance = (p: number): boolean => this.next() < p;
}
