/**
 * Handles of portals' files: open while they are used, and few at a time. A file that is not used any more is closed and opened again
 * when it is asked for; all that are open share one budget of memory. Whoever holds a file need not know: it opens by being used.
 */
import type Sqlite from "better-sqlite3";
import { type BetterSQLite3Database, drizzle } from "drizzle-orm/better-sqlite3";
import type { PortalId } from "@/core/ids";
import { Meta } from "./meta";
import { once } from "./per-process";
import type { PortalFile } from "./portal-file";
import { Statements } from "./statements";

interface Limits {
  /** Each has three descriptors: the file, its write-ahead log and the log's index. */
  readonly mostOpen: number;
  /** Milliseconds: what was used so lately may still be in use between two steps of a request. */
  readonly idle: number;
  /** KiB of page cache for all of them. */
  readonly budget: number;
}
const LIMITS: Limits = { mostOpen: 64, idle: 500, budget: 192 * 1024 };
/** KiB: more than this for one file is not worth it. */
const MOST_CACHE = 64 * 1024;
const LEAST_CACHE = 2 * 1024;

interface Parts {
  readonly db: Sqlite.Database;
  readonly statements: Statements;
  readonly meta: Meta;
  orm: BetterSQLite3Database | null;
}

export class Handle implements PortalFile {
  #parts: Parts | null = null;
  #pins = 0;
  usedAt = 0;

  constructor(
    readonly id: PortalId,
    readonly slug: string,
    readonly path: string,
    readonly readOnly: boolean,
    private readonly make: () => Sqlite.Database,
    private readonly pool: Pool,
    /** Its place among the open files is given up with it. */
    private readonly closed: () => void,
  ) {}

  get db(): Sqlite.Database {
    return this.#use().db;
  }
  get orm(): BetterSQLite3Database {
    const parts = this.#use();
    parts.orm ??= drizzle(parts.db);
    return parts.orm;
  }
  get statements(): Statements {
    return this.#use().statements;
  }
  get meta(): Meta {
    return this.#use().meta;
  }

  #use(): Parts {
    this.usedAt = Date.now();
    if (this.#parts) return this.#parts;
    const db = this.make();
    this.#parts = { db, statements: new Statements(db), meta: new Meta(db), orm: null };
    this.pool.opened(this);
    return this.#parts;
  }

  pin(): () => void {
    this.#use();
    this.#pins++;
    let held = true;
    return () => {
      if (held) this.#pins--;
      held = false;
    };
  }

  rest(): void {
    if (this.closable) this.pool.rest(this);
  }

  get closable(): boolean {
    return this.#pins === 0 && !this.#parts?.db.inTransaction;
  }
  cache(kib: number): void {
    this.#parts?.db.pragma(`cache_size = -${kib}`);
  }
  close(first?: (db: Parts["db"]) => void): void {
    if (this.#parts) first?.(this.#parts.db);
    this.#parts?.db.close();
    this.#parts = null;
    this.closed();
  }
}

export class Pool {
  readonly #open = new Set<Handle>();
  #cache = 0;

  constructor(private readonly limits: Limits = LIMITS) {}

  get size(): number {
    return this.#open.size;
  }

  opened(handle: Handle): void {
    this.#open.add(handle);
    const spare = this.#open.size - this.limits.mostOpen;
    if (spare > 0) this.#close(spare, handle);
    this.#share(handle);
  }

  rest(handle: Handle): void {
    if (this.#open.delete(handle)) handle.close();
  }

  /** `first` is done with each file before it is closed. */
  closeAll(first?: (db: Parts["db"]) => void): void {
    for (const h of this.#open) h.close(first);
    this.#open.clear();
  }

  /** Closes up to `n` handles, least recently used first, and none that was used a moment ago. */
  #close(n: number, but: Handle): void {
    // Where very many are asked for at once, a step of a request may find its file closed, and opens it again.
    const before = Date.now() - (n > this.limits.mostOpen ? this.limits.idle / 10 : this.limits.idle);
    const idle = [...this.#open].filter((h) => h !== but && h.usedAt <= before && h.closable).sort((a, b) => a.usedAt - b.usedAt);
    for (const h of idle.slice(0, n)) {
      h.close();
      this.#open.delete(h);
    }
  }

  #share(latest: Handle): void {
    const each = Math.max(LEAST_CACHE, Math.min(MOST_CACHE, Math.floor(this.limits.budget / this.#open.size)));
    if (each === this.#cache) latest.cache(each);
    else for (const h of this.#open) h.cache(each);
    this.#cache = each;
  }
}

export const pool = once("open portals", () => new Pool());

/** The work with the file held open for it. */
export async function held<T>(file: PortalFile, work: () => Promise<T>): Promise<T> {
  const release = file.pin?.();
  try {
    return await work();
  } finally {
    release?.();
  }
}
