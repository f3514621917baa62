import type { Config } from "@/config";
import type { Provider } from "./contract";
import { tillProvider } from "./till";

/** The provider that this installation offers; null where it has none, and nothing can be paid online. */
export const providerOf = (c: Config): Provider | null => (c.till === null ? null : tillProvider(c.till));
