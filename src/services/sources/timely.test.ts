/** A source that hangs, drips or never ends is given up. */
import { describe, expect, it } from "vitest";
import { Troubled } from "./contract";
import { type Bounds, timely } from "./timely";

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
async function* from(rows: number, cell: string, pause: number): AsyncGenerator<string[][]> {
  for (let i = 0; i < rows; i++) {
    await wait(pause);
    yield [[cell]];
  }
}
async function read(pieces: AsyncIterable<string[][]>, bounds: Bounds): Promise<number | string> {
  let n = 0;
  try {
    for await (const piece of timely(pieces, bounds)) n += piece.length;
    return n;
  } catch (e) {
    return e instanceof Troubled ? e.trouble.message : String(e);
  }
}

describe("rows of a source", () => {
  it("come as they are where they come in time, however long whoever takes them takes", async () => {
    expect(await read(from(5, "x", 0), {})).toBe(5);
    let n = 0;
    for await (const _ of timely(from(3, "x", 0), { stall: 30, longest: 60, slowest: 1 })) {
      await wait(50);
      n++;
    }
    expect(n).toBe(3);
  });
  it("are given up where they hang, and what hangs is not waited for", async () => {
    const hangs = {
      [Symbol.asyncIterator]: () => ({ next: () => new Promise<never>(() => {}), return: () => new Promise<never>(() => {}) }),
    };
    expect(await read(hangs, { stall: 50 })).toBe("It did not go on in time.");
  });
  it("are given up where they drip, or take for ever", async () => {
    expect(await read(from(1_000, "x", 20), { stall: 100 })).toBe("It comes too slowly.");
    expect(await read(from(1_000, "x".repeat(10_000), 20), { longest: 100 })).toBe("It comes too slowly.");
  });
  it("are broken off at the end of the process", async () => {
    let over = false;
    setTimeout(() => (over = true), 50);
    expect(await read(from(1, "x", 60_000), { broken: () => over })).toBe("Elkhorn was stopped while it was read.");
  });
  it("fail as the source says", async () => {
    async function* fails(): AsyncGenerator<string[][]> {
      yield [["x"]];
      throw new Error("It broke.");
    }
    expect(await read(fails(), {})).toBe("Error: It broke.");
  });
});
