import fc from "fast-check";
import { feedEvents } from "@/server/feeds";
import { seed } from "./random";

feedEvents();

// Those that name no seed of their own, too.
fc.configureGlobal({ seed });
