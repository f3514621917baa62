import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const alias = { "@": fileURLToPath(new URL("./src", import.meta.url)) };

/** Those that put something else in a module's place, or a folder of their own in the environment. */
const APART = ["src/server/statements.test.ts", "src/identity/identity.test.ts", "src/data/imports/imports.test.ts"];

export default defineConfig({
  test: {
    // Stories wait for pages more than they compute: three files at a time keep two processors busy.
    maxWorkers: process.argv.includes("stories") ? 3 : 2,
    projects: [
      // Files of a worker share their modules: what is imported makes half of the work otherwise.
      { resolve: { alias }, test: { name: "unit", include: ["src/**/*.test.ts"], exclude: APART, testTimeout: 60_000, isolate: false } },
      { resolve: { alias }, test: { name: "unit-apart", include: APART, testTimeout: 60_000 } },
      {
        resolve: { alias },
        test: {
          name: "stories",
          include: ["tests/**/*.test.ts"],
          globalSetup: ["tests/support/server.ts"],
          testTimeout: 90_000,
          hookTimeout: 90_000,
        },
      },
    ],
  },
});
