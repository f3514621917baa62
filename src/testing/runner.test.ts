import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { pathToFileURL } from "node:url";
import { afterAll, describe, expect, it } from "vitest";
import { chooseTests, readAt, testFiles } from "../../scripts/testing/choose-tests.mjs";

const ROOT = resolve(import.meta.dirname, "../..");
const folder = mkdtempSync(join(tmpdir(), "elkhorn-runner-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe("which tests are meant", () => {
  const texts: Record<string, string> = {
    "src/core/a.test.ts": 'it("adds up", () => {})',
    "tests/pages.test.ts": "it(`any filter of $".concat("{n} is one filter`, () => {})"),
    "tests/pages-more.test.ts": 'describe("a calendar", () => it("moves an entry", () => {}))',
  };
  const choose = (...given: string[]) => chooseTests(given, Object.keys(texts), (f: string) => texts[f]!);

  it("names of files, alone or several, mean all their tests", () => {
    expect(choose("tests/pages")).toEqual({ files: ["tests/pages.test.ts", "tests/pages-more.test.ts"], name: null });
    expect(choose("./tests/pages-more.test.ts", "core/a")).toEqual({
      files: ["tests/pages-more.test.ts", "src/core/a.test.ts"],
      name: null,
    });
  });

  it("names of tests are found, those made of parts and as the runner prints them, too", () => {
    expect(choose("moves", "an", "entry")).toEqual({ files: ["tests/pages-more.test.ts"], name: "moves an entry" });
    expect(choose("any filter of 300 is one filter").files).toEqual(["tests/pages.test.ts"]);
    expect(choose("tests/pages-more.test.ts > a calendar > moves an entry").name).toBe("moves an entry");
  });

  it("what nothing is called chooses nothing, and the command says so and starts nothing", () => {
    expect(choose("nowhere").files).toEqual([]);
    const name = ["there is", "no such", "test"].join(" ");
    expect(chooseTests([name], testFiles(ROOT), readAt(ROOT)).files).toEqual([]);
    const done = spawnSync(process.execPath, ["scripts/test-one.mjs", name], { cwd: ROOT, encoding: "utf8" });
    expect([done.status, done.stderr]).toEqual([
      1,
      `No test file or test is called "${name}". Name a part of a file's path, or of a test's name.\n`,
    ]);
  });
});

/** False, too, for one that has ended and that nobody has asked after yet. */
function runs(pid: number): boolean {
  try {
    return !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, "utf8"));
  } catch {
    return false;
  }
}
const until = async (so: () => boolean): Promise<void> => {
  for (const end = Date.now() + 30_000; !so(); await new Promise((r) => setTimeout(r, 20)))
    if (Date.now() > end) throw new Error("It never came to be so.");
};

describe.runIf(process.platform === "linux")("what a run started ends with it", () => {
  /** A runner that starts one child, which starts one itself, both apart from it; their ids, once they run. */
  async function begun(): Promise<{ runner: ChildProcess; pids: number[] }> {
    const at = join(folder, `pids-${Math.random()}`);
    writeFileSync(at, "");
    const child = `require("fs").appendFileSync(${JSON.stringify(at)}, process.pid + "\\n"); setInterval(() => {}, 1000);`;
    const both = `require("child_process").spawn(process.execPath, ["-e", ${JSON.stringify(child)}], { detached: true, stdio: "ignore" }); ${child}`;
    const runner = spawn(
      process.execPath,
      [
        "--input-type=module",
        "-e",
        `const { default: setup } = await import(${JSON.stringify(pathToFileURL(join(ROOT, "tests/support/run.mjs")).href)});
         setup();
         const { spawn } = await import("node:child_process");
         spawn(process.execPath, ["-e", ${JSON.stringify(both)}], { detached: true, stdio: "ignore" });
         setInterval(() => {}, 1000);`,
      ],
      { cwd: ROOT, env: { ...process.env, ELKHORN_RUN: "" }, stdio: "ignore" },
    );
    const pids = (): number[] => readFileSync(at, "utf8").split("\n").filter(Boolean).map(Number);
    await until(() => pids().length === 2);
    return { runner, pids: pids() };
  }

  for (const signal of ["SIGKILL", "SIGTERM", "SIGINT"] as const)
    it(`by ${signal}`, async () => {
      const { runner, pids } = await begun();
      expect(pids.map(runs)).toEqual([true, true]);
      runner.kill(signal);
      await once(runner, "exit");
      await until(() => !pids.some(runs));
    });
});

describe("the clock for tests", () => {
  const env = { ...process.env, NODE_OPTIONS: "", ELKHORN_TEST_AHEAD: "86400000" };

  it("moves what is asked without a date and nothing else", () => {
    const asked = `const real = performance.timeOrigin + performance.now();
      console.log(JSON.stringify([
        Math.round((Date.now() - real) / 1000), Math.round((new Date() - real) / 1000), Date().slice(0, 15) === new Date().toDateString(),
        new Date(0).toISOString(), Date.UTC(2028, 1, 29), new Date() instanceof Date, new (class extends Date {})() instanceof Date,
        structuredClone(new Date(5)) instanceof Date, new Date(5).constructor === Date ]))`;
    const done = spawnSync(process.execPath, [`--import=${pathToFileURL(join(ROOT, "scripts/testing/test-clock.mjs"))}`, "-e", asked], {
      env,
      encoding: "utf8",
    });
    expect(JSON.parse(done.stdout)).toEqual([86_400, 86_400, true, "1970-01-01T00:00:00.000Z", 1_835_395_200_000, true, true, true, true]);
  });

  it("moves once in a thread, however often it is loaded", () => {
    const file = pathToFileURL(join(ROOT, "scripts/testing/test-clock.mjs")).href;
    const asked = `await import(${JSON.stringify(`${file}?again`)}); console.log(Math.round((Date.now() - performance.timeOrigin) / 86_400_000))`;
    const done = spawnSync(process.execPath, [`--import=${file}`, "--input-type=module", "-e", asked], { env, encoding: "utf8" });
    expect(done.stdout.trim()).toBe("1");
  });

  it("is refused by a server that no test starts", () => {
    const done = spawnSync(process.execPath, ["scripts/serve.mjs"], { cwd: ROOT, env: { ...env, VITEST: "" }, encoding: "utf8" });
    expect([done.status, done.stderr]).toEqual([1, expect.stringContaining("ELKHORN_TEST_AHEAD moves the clock and is for tests alone")]);
  });
});
