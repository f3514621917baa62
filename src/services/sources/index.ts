/** All kinds of sources. A new one is its file and its line here. */
import { addressSource } from "./address";
import type { SourceAdapter } from "./contract";
import { davSource } from "./dav";
import { ledgerSource } from "./ledger";
import { mysqlSource } from "./mysql";
import { postgresSource } from "./postgres";

export const SOURCES = {
  address: addressSource,
  postgres: postgresSource,
  mysql: mysqlSource,
  dav: davSource,
  ledger: ledgerSource,
} as const satisfies Record<string, SourceAdapter>;

export type SourceKind = keyof typeof SOURCES;
export const SOURCE_KINDS = Object.keys(SOURCES) as [SourceKind, ...SourceKind[]];
/** Whether a word that came from outside names a kind of system. */
export const isSourceKind = (text: string): text is SourceKind => Object.hasOwn(SOURCES, text);
