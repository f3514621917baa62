import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";
import { changedStories, LONG, notePassed } from "./scripts/testing/long-stories.mjs";

const alias = { "@": fileURLToPath(new URL("./src", import.meta.url)) };

/** Those that put something else in a module's place, or a folder of their own in the environment. */
const APART = [
  "src/proxy.test.ts",
  "src/server/actions.test.ts",
  "src/server/office-actions.test.ts",
  "src/command-line/folder.test.ts",
  "src/server/talk-actions.test.ts",
  "src/server/statements-demo.test.ts",
  "src/server/statements.test.ts",
  "src/data/imports/statements.test.ts",
  "src/identity/sessions/sessions.test.ts",
  "src/identity/passwords/passwords.test.ts",
  "src/identity/secrets/signed.test.ts",
  "src/data/imports/imports.test.ts",
  "src/services/outside/guarded.test.ts",
];

/** One seed for all that is random in a run: another each time, told where something fails. `ELKHORN_SEED=<seed>` repeats a run. */
process.env.ELKHORN_SEED ??= String(Date.now() % 1_000_000_007);
const SETUP = ["src/testing/begin.ts"];
/** Nothing that a run starts outlives it. */
const RUN = "tests/support/run.mjs";

/** In both: some pages of the office in a clean run, all of them, wide and narrow, in the long one. */
const BOTH = ["tests/all/axe.test.ts"];
const long = process.env.ELKHORN_LONG === "1";
/** Files that somebody names (`npm run test:one`) are run whichever run they belong to. */
const named = process.env.ELKHORN_NAMED === "1";
/** Long stories whose rooms are as they were when they last passed. */
const resting = Object.keys(LONG).filter((story) => !changedStories().includes(story));

/** What takes longest begins first, so that nothing is waited for alone at the end. */
const LONGEST = [
  "tests/all/axe.test.ts",
  "tests/office/office.test.ts",
  "tests/money/checkout.test.ts",
  "tests/access/access.test.ts",
  "records/query/differential.test.ts",
];
function place(f: TestSpecification): number {
  const at = LONGEST.findIndex((l) => f.moduleId.endsWith(l));
  return at < 0 ? LONGEST.length : at;
}

class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    return (await super.sort(files)).toSorted((a, b) => place(a) - place(b));
  }
}

export default defineConfig({
  test: {
    sequence: { sequencer: LongestFirst },
    reporters: ["default", notePassed],
    // Stories wait for pages more than they compute: three files at a time keep two processors busy.
    maxWorkers: process.argv.includes("stories") ? 3 : 2,
    projects: [
      // Files of a worker share their modules: what is imported makes half of the work otherwise.
      {
        resolve: { alias },
        test: {
          name: "unit",
          include: ["src/**/*.test.ts"],
          exclude: APART,
          setupFiles: SETUP,
          globalSetup: [RUN],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          isolate: false,
        },
      },
      {
        resolve: { alias },
        test: { name: "unit-apart", include: APART, setupFiles: SETUP, globalSetup: [RUN], testTimeout: 120_000, hookTimeout: 120_000 },
      },
      {
        resolve: { alias },
        test: {
          name: "stories",
          setupFiles: SETUP,
          include: long ? [...Object.keys(LONG), ...BOTH] : ["tests/**/*.test.ts"],
          exclude: long || named ? [] : resting,
          globalSetup: [RUN, "tests/support/server.ts"],
          testTimeout: 90_000,
          isolate: false,
          hookTimeout: 90_000,
        },
      },
    ],
  },
});
