import fc from "fast-check";
import { seed } from "./random";

// Those that name no seed of their own, too.
fc.configureGlobal({ seed });
