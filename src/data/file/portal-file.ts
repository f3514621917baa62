import type Sqlite from "better-sqlite3";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import type { PortalId } from "@/core/ids";
import type { Meta } from "./meta";
import type { Statements } from "./statements";

/** A portal's open file. `readOnly` handles refuse every write in SQLite itself: "see as" looks through one. */
export interface PortalFile {
  /** Stays for good: the file, secrets and cookies are called by it. The slug is an address, and may change. */
  readonly id: PortalId;
  readonly slug: string;
  readonly path: string;
  readonly db: Sqlite.Database;
  readonly orm: BetterSQLite3Database;
  readonly statements: Statements;
  readonly meta: Meta;
  readonly readOnly: boolean;
  /** Stays open until the answer is called: for work that keeps a statement over its rests. */
  pin?(): () => void;
  /** It is not needed for now. Used again, it opens again. */
  rest?(): void;
}
