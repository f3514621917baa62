/**
 * A portal's small facts and settings, held in memory for all handles of a file. A request looks once whether another process has changed them
 * (`look`); below it they are read from here. What this process writes is here at once, and is forgotten where it is undone.
 */
import type Database from "better-sqlite3";

export class Meta {
  #facts: Map<string, string> | null = null;

  /** Prepared once: this is asked at each request. */
  #read: Database.Statement | null = null;

  constructor(private readonly db: Database.Database) {}

  get(key: string): string | undefined {
    return this.#all().get(key);
  }
  set(key: string, value: string): void {
    this.#facts?.set(key, value);
  }
  /** What was written may have been undone, or another process may have written: read again when next asked. */
  look(): void {
    this.#facts = null;
  }

  #all(): Map<string, string> {
    if (this.#facts) return this.#facts;
    this.#read ??= this.db
      .prepare("SELECT key, value FROM sys_meta UNION ALL SELECT 'setting: ' || key, value FROM sys_settings WHERE key <> 'joining'")
      .raw();
    this.#facts = new Map(this.#read.all() as [string, string][]);
    return this.#facts;
  }
}
