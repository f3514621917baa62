import { join } from "node:path";
import type { Config } from "@/config";
import type { Names } from "./contract";
import { liveNames } from "./live";
import { standInNames } from "./stand-in";

/** Where the stand-in keeps what it answers. */
export const namesFolder = (c: Config): string => join(c.data, "names");
/** What looks up names of hosts (DNS), as it is configured. */
export const namesOf = (c: Config): Names => (c.names === "stand-in" ? standInNames(namesFolder(c)) : liveNames);
