import fc from "fast-check";
import { beforeAll } from "vitest";
import { seed } from "./random";

// Those that name no seed of their own, too.
fc.configureGlobal({ seed });
// Not at once: what a test file puts in a module's place must be there before letters are loaded.
beforeAll(async () => (await import("@/server/feeds")).feedEvents());
