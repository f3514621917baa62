import { describe, expect, it, vi } from "vitest";
import type { PortalFile } from "../file/open";
import { Background, Pace } from "./background";

const file = { path: "one" } as PortalFile;
const other = { path: "two" } as PortalFile;
/** When everything that waits for nothing but its turn has had it. */
const later = (): Promise<void> => new Promise((next) => setImmediate(next));

describe("work in the background", () => {
  it("is done once for a stamp, however many ask, and anew for another stamp, portal or name", async () => {
    const reports = new Background<number>();
    let runs = 0;
    const work = async (): Promise<number> => ++runs;
    expect(reports.ask(file, "a", "1", work).state).toBe("working");
    expect(reports.ask(file, "a", "1", work).state).toBe("working");
    await later();
    expect(reports.ask(file, "a", "1", work)).toEqual({ state: "ready", value: 1 });
    expect(await reports.soon(file, "a", "2", work)).toEqual({ state: "ready", value: 2 });
    expect(await reports.soon(other, "a", "2", work)).toEqual({ state: "ready", value: 3 });
    expect(await reports.soon(file, "b", "2", work)).toEqual({ state: "ready", value: 4 });
    expect(await reports.soon(file, "a", "2", work)).toEqual({ state: "ready", value: 2 });
  });

  it("an older run that ends late does not answer for the newer stamp", async () => {
    const reports = new Background<string>();
    let finish = (_: string): void => {};
    reports.ask(file, "a", "old", () => new Promise((done) => (finish = done)));
    expect(await reports.soon(file, "a", "new", async () => "new")).toEqual({ state: "ready", value: "new" });
    finish("old");
    await later();
    expect(reports.ask(file, "a", "new", async () => "never")).toEqual({ state: "ready", value: "new" });
  });

  it("tells how far it is, and lets others in between", async () => {
    const reports = new Background<string>();
    const order: string[] = [];
    const work = async (pace: Pace): Promise<string> => {
      for (let i = 1; i <= 3; i++) {
        order.push(`step ${i}`);
        await pace.rest(i, 3);
      }
      return "done";
    };
    reports.ask(file, "a", "1", work);
    setImmediate(() => order.push("somebody else"));
    expect(reports.ask(file, "a", "1", work)).toEqual({ state: "working", done: 1, of: 3 });
    expect(await reports.whole(file, "a", "1", work)).toBe("done");
    expect(order.indexOf("somebody else")).toBeLessThan(order.indexOf("step 3"));
    expect(reports.ask(file, "a", "1", work)).toEqual({ state: "ready", value: "done" });
  });

  it("several that work at once rest together: others are answered after one slice, not after one of each", async () => {
    const pace = new Pace();
    let [turns, working] = [0, true];
    const turn = (): void => {
      turns++;
      if (working) setImmediate(turn);
    };
    setImmediate(turn);
    // What each does is answered at once, so nothing but the rest lets others in.
    const worker = async (): Promise<void> => {
      for (let i = 0; i < 20; i++) {
        for (const end = Date.now() + 2; Date.now() < end; );
        await Promise.resolve();
        if (pace.due()) await pace.rest(i, 20);
      }
    };
    await Promise.all(Array.from({ length: 20 }, worker));
    working = false;
    // 800 ms of work in slices of 25; were each to have a slice of its own, others would come in two or three times.
    expect(turns).toBeGreaterThan(10);
  });

  it("is waited for whole by whoever needs all of it, who shows its progress as their own; where it fails they are told", async () => {
    const reports = new Background<string>();
    const waiting = { progress: { done: 0 } } as unknown as Pace;
    const work = async (pace: Pace): Promise<string> => {
      await pace.rest(2, 3);
      await new Promise((next) => setTimeout(next, 60));
      return "done";
    };
    const whole = reports.whole(file, "a", "1", work, waiting);
    expect(reports.ask(file, "a", "1", work).state).toBe("working"); // the same job
    expect(await whole).toBe("done");
    expect(waiting.progress).toEqual({ state: "working", done: 2, of: 3 });
    expect(await reports.whole(file, "a", "1", () => Promise.reject(new Error("again")))).toBe("done");
    vi.spyOn(console, "error").mockImplementation(() => {});
    await expect(reports.whole(file, "a", "2", () => Promise.reject(new Error("no")))).rejects.toThrow("failed");
    vi.restoreAllMocks();
  });

  it("for a word at the side, quick work is done anew and long work seldom, and old results count only for the same rules", async () => {
    vi.useFakeTimers();
    try {
      const reports = new Background<string>();
      let runs = 0;
      const work =
        (ms: number) =>
        async (_: Pace): Promise<string> => {
          runs++;
          const said = `run ${runs}`;
          if (ms > 0) await new Promise((next) => setTimeout(next, ms));
          return said;
        };
      const ask = async (name: string, stamp: string, ms: number): Promise<string | null> => {
        const asked = reports.lately(file, name, stamp, work(ms), stamp.split(" ")[0]!);
        await vi.advanceTimersByTimeAsync(1_000);
        return asked;
      };
      expect([await ask("quick", "1 a", 0), await ask("quick", "1 b", 0), await ask("quick", "2 b", 0)]).toEqual([
        "run 1",
        "run 2",
        "run 3",
      ]);
      expect(await ask("long", "1 a", 5_000)).toBeNull(); // none yet
      await vi.advanceTimersByTimeAsync(5_000);
      expect(await ask("long", "1 a", 5_000)).toBe("run 4");
      expect(await ask("long", "1 b", 5_000)).toBe("run 4"); // a record has changed meanwhile
      expect(await ask("long", "2 b", 5_000)).toBeNull(); // the rules have: what it was says nothing of them
      expect(runs).toBe(4);
      await vi.advanceTimersByTimeAsync(60_000);
      expect(await ask("long", "1 b", 5_000)).toBe("run 4");
      await vi.advanceTimersByTimeAsync(5_000);
      expect(await ask("long", "1 b", 5_000)).toBe("run 5");
    } finally {
      vi.useRealTimers();
    }
  });

  it("asks for a rest only when a slice of time is over", () => {
    vi.useFakeTimers();
    try {
      const reports = new Background<string>();
      let pace: Pace | undefined;
      reports.ask(file, "a", "1", async (p) => {
        pace = p;
        return "";
      });
      expect(pace!.due()).toBe(false);
      vi.advanceTimersByTime(30);
      expect(pace!.due()).toBe(true);
    } finally {
      vi.useRealTimers();
    }
  });

  it("tells a failure once, then begins anew", async () => {
    const silent = vi.spyOn(console, "error").mockImplementation(() => {});
    const reports = new Background<string>();
    let broken = true;
    const work = async (): Promise<string> => {
      if (broken) throw new Error("no such table");
      return "mended";
    };
    expect((await reports.soon(file, "a", "1", work)).state).toBe("failed");
    broken = false;
    expect(await reports.soon(file, "a", "1", work)).toEqual({ state: "ready", value: "mended" });
    expect(silent).toHaveBeenCalledOnce();
    silent.mockRestore();
  });
});
