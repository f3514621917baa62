import fc from "fast-check";
import { beforeAll } from "vitest";
import { setFeeds } from "@/data/events/feeds";
import { seed } from "./random";

// Holds for properties that name no seed of their own, too.
fc.configureGlobal({ seed });
// Letters are not loaded at once: what a test file puts in a module's place must be there before. Until then nobody hears of events.
setFeeds([]);
beforeAll(async () => (await import("@/server/feeds")).feedEvents());
