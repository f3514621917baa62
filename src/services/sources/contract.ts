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
  /** Milliseconds that the other system asks to be left alone. */
  readonly wait?: number;
}

/** All rows of an object as a file of a kind that imports take: CSV, XLSX, JSON lines. */
export interface SourceTable {
  readonly fileName: string;
  readonly body: ReadableStream<Uint8Array>;
}

/** Rows of an object as they come. What cannot be read on the way is thrown as an Error whose message is a sentence. */
export interface SourceRows {
  readonly fileName: string;
  readonly header: readonly string[];
  readonly pieces: AsyncIterable<readonly (readonly string[])[]>;
  /** The column that the other system itself knows a row by; null where it has none, or several. */
  readonly key: string | null;
  /** All there are, or those that changed since the mark. */
  readonly whole: boolean;
  /** Once all have come. */
  readonly end: () => SourceEnd;
}
export interface SourceEnd {
  /** From where changes are read next time; null where the other system cannot tell them. */
  readonly mark: string | null;
  /** Keys of rows that went since the mark. */
  readonly gone: readonly string[];
}

/** A row by the names of its columns. */
export type SourceRow = Readonly<Record<string, string>>;

/** One row to be made or changed there. */
export interface SourceWrite {
  /** Its key; null where it is to be made. */
  readonly key: string | null;
  readonly values: SourceRow;
  /** What its columns held when it was last read; null where it is written whatever they hold now. */
  readonly seen: SourceRow | null;
  /** The same for each try of the same change, so that it is made once. */
  readonly once: string;
  /**
   * Set where an earlier try may have made the row and nobody can tell: an adapter that cannot go by `once` looks for a row with these
   * values, but for those whose key is known to be of another record.
   */
  readonly isOthers: ((key: string) => boolean) | null;
}
export type SourceWritten =
  | { readonly kind: "written"; readonly key: string; readonly row: SourceRow }
  /** It was changed there, too: nothing was written. `changedAt` in milliseconds, where the other system tells it. */
  | { readonly kind: "differs"; readonly row: SourceRow; readonly changedAt: number | null }
  | { readonly kind: "gone" };

export type SourceSettings = Readonly<Record<string, string>>;

/** Only rows whose column holds one of these. */
export interface SourceOnly {
  readonly column: string;
  readonly values: readonly string[];
}

export interface SourceAdapter {
  readonly name: string;
  readonly about: string;
  readonly fields: readonly SourceField[];
  /** What can be chosen. Proves at the same time that the settings are right. */
  objects(settings: SourceSettings): Promise<Result<readonly SourceObject[], SourceTrouble>>;
  /** `since` is the mark of an earlier reading: what changed after it is enough where the other system can tell. */
  read(
    settings: SourceSettings,
    object: string,
    since: string | null,
    only?: SourceOnly | null,
  ): Promise<Result<SourceTable | SourceRows, SourceTrouble>>;
  /** Whether `only` is asked of the other system, or at least heeded. */
  readonly filters?: boolean;
  /** Columns that are the other system's own: they only come in. */
  readonly fixed?: readonly string[];
  /** Only where rows can be made and changed there. Nothing is written over a column that no longer holds what was seen. */
  readonly write?: (settings: SourceSettings, object: string, write: SourceWrite) => Promise<Result<SourceWritten, SourceTrouble>>;
}

/** Thrown while rows come, or within an adapter. */
export class Troubled extends Error {
  constructor(readonly trouble: SourceTrouble) {
    super(trouble.message);
  }
}

export const later = (message: string, wait?: number): SourceTrouble => ({ when: "later", message, ...(wait ? { wait } : {}) });
export const never = (message: string): SourceTrouble => ({ when: "never", message });

/** As much of a table as is taken in at once. Larger ones are to be filtered at the source. */
export const MOST_SOURCE_BYTES = 500 * 1024 * 1024;
/** As much of it as may be needed in memory: an answer that is no use in parts. */
export const MOST_IN_MEMORY = 50 * 1024 * 1024;
/** Milliseconds for an answer to begin, or for a whole one that is taken in memory. How long rows may take in all: timely.ts. */
export const SOURCE_WAITS = 120_000;

/** Columns of `values` that hold neither what was seen nor what is to be written. */
export const differing = (values: SourceRow, seen: SourceRow, now: SourceRow): string[] =>
  Object.keys(values).filter((c) => (now[c] ?? "") !== (seen[c] ?? "") && (now[c] ?? "") !== values[c]);
