/**
 * Another system whose data comes into a portal. An adapter says what it must be told, what there is to choose from, and hands each of those over
 * as a table of text: how the text is read, mapped and compared is the import's work and the same for all. Adding one: docs/adding.md.
 */
import type { Result } from "@/core/result";

/** One thing that an adapter must be told. */
export interface SourceField {
  readonly name: string;
  readonly label: string;
  readonly hint: string;
  /** Sealed when it is kept, and never shown again. */
  readonly secret?: boolean;
  readonly optional?: boolean;
}

/** A table, a view, a kind of record, by what the other system calls it. */
export interface SourceObject {
  readonly id: string;
  readonly name: string;
}

/** Why nothing came, in a sentence for the owner. later: it may by itself. never: somebody must change something. */
export interface SourceTrouble {
  readonly when: "later" | "never";
  readonly message: string;
}

/** All rows of an object: CSV, or a file of a kind that imports take (XLSX, JSON lines). */
export interface SourceTable {
  readonly fileName: string;
  readonly body: ReadableStream<Uint8Array>;
}

export type SourceSettings = Readonly<Record<string, string>>;

export interface SourceAdapter {
  readonly name: string;
  readonly about: string;
  readonly fields: readonly SourceField[];
  /** What can be chosen. Proves at the same time that the settings are right. */
  objects(settings: SourceSettings): Promise<Result<readonly SourceObject[], SourceTrouble>>;
  read(settings: SourceSettings, object: string): Promise<Result<SourceTable, SourceTrouble>>;
}

export const later = (message: string): SourceTrouble => ({ when: "later", message });
export const never = (message: string): SourceTrouble => ({ when: "never", message });

/** As much of a table as is taken in at once. Larger ones are to be filtered at the source. */
export const MOST_SOURCE_BYTES = 50 * 1024 * 1024;
/** Milliseconds for all of it: a source that drips is given up. */
export const SOURCE_WAITS = 120_000;
