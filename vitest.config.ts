import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const alias = { "@": fileURLToPath(new URL("./src", import.meta.url)) };

export default defineConfig({
  test: {
    // Stories wait for pages more than they compute: three files at a time keep two processors busy.
    maxWorkers: process.argv.includes("stories") ? 3 : 2,
    projects: [
      // Files of a worker share their modules: what is imported makes half of the work otherwise. No unit test leaves anything in them.
      { resolve: { alias }, test: { name: "unit", include: ["src/**/*.test.ts"], testTimeout: 60_000, isolate: false } },
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
