/**
 * What a reading meets: the rows as they came, by their keys, and the records that they are of. There may be a million, so both stand in a file of
 * the reading's own, and are compared and kept in a thread.
 */
import { mkdirSync, rmSync } from "node:fs";
import type { Database as Handle, Statement } from "better-sqlite3";
import type { Owner } from "@/core/access/who/viewer";
import { sqlName } from "@/core/text/sql-name";
import { newId } from "@/data/file/ids";
import { type PortalFile, portalFile } from "@/data/file/open";
import Database from "@/data/file/sqlite";
import { transact } from "@/data/file/transact";
import { importFolder, importPath } from "@/data/imports/reading/paths";
import { task, writersTask } from "@/data/threads";
import { putBack } from "./back/put-back";
import { feedById, isOwn, keyField } from "./feeds";

export class Met {
  readonly id = newId();
  readonly #db: Handle;
  readonly #put: Statement;

  constructor() {
    mkdirSync(importFolder(), { recursive: true, mode: 0o700 });
    this.#db = new Database(importPath(this.id, "met"));
    // Nothing in it has to survive: a reading that is broken off begins anew.
    this.#db.pragma("journal_mode = OFF");
    this.#db.pragma("synchronous = OFF");
    this.#db.exec(`CREATE TABLE seen (key TEXT PRIMARY KEY, row TEXT NOT NULL) STRICT, WITHOUT ROWID;
      CREATE TABLE here (id TEXT PRIMARY KEY) STRICT, WITHOUT ROWID`);
    this.#put = this.#db.prepare("INSERT OR REPLACE INTO seen VALUES (?, ?)");
  }

  /** Keys, each with its row as JSON. */
  saw(rows: readonly (readonly [string, string])[]): void {
    this.#db.transaction(() => {
      for (const [key, row] of rows) this.#put.run(key, row);
    })();
  }

  /** Once all have come: the threads open it themselves. */
  close(): void {
    this.#db.close();
  }

  remove(): void {
    this.close();
    rmSync(importPath(this.id, "met"), { force: true });
  }
}

interface OfReading {
  readonly portal: string;
  readonly feed: string;
  /** Id of the reading's file. */
  readonly met: string;
}

/** The portal's file with others beside it, for as long as `work` takes. */
function beside<T>(portal: string, others: Readonly<Record<string, string>>, work: (file: PortalFile) => T): T {
  const file = portalFile(portal);
  if (!file) throw new Error(`There is no portal at ${portal} any more.`);
  const attached: string[] = [];
  try {
    for (const [name, path] of Object.entries(others)) {
      file.db.prepare(`ATTACH DATABASE ? AS ${name}`).run(path);
      attached.push(name);
    }
    return work(file);
  } finally {
    for (const name of attached) file.db.exec(`DETACH DATABASE ${name}`);
  }
}

/** Of the rows of a checked import: of how many records they are, and which records of earlier readings are not among them. */
export const metTask = task(
  "see what a reading met",
  ({ portal, feed: id, met, importId, heldBack }: OfReading & { readonly importId: string; readonly heldBack: readonly string[] }) =>
    beside(portal, { stage: importPath(importId, "stage"), met: importPath(met, "met") }, (file): { here: number; gone: string[] } => {
      const table = sqlName(feedById(file, id)!.tableId!);
      const { db } = file;
      db.exec(
        `INSERT OR IGNORE INTO met.here SELECT coalesce(t.id, r.id) FROM stage.rows r LEFT JOIN ${table} t ON t.rowid = r.known WHERE coalesce(t.id, r.id) <> ''`,
      );
      db.prepare("INSERT OR IGNORE INTO met.here SELECT value FROM json_each(?)").run(JSON.stringify(heldBack));
      const gone = db.prepare(
        `SELECT s.record_id FROM sys_source_records s JOIN ${table} t ON t.id = s.record_id
         WHERE s.feed_id = ? AND s.record_id NOT IN (SELECT id FROM met.here)`,
      );
      return { here: db.prepare("SELECT count(*) FROM met.here").pluck().get() as number, gone: gone.pluck().all(id) as string[] };
    }),
);

interface ToKeep extends OfReading {
  /** The last number of a change from here when the reading began; null where nothing was written. */
  readonly since: number | null;
}

/** Once they are in: which records are the feed's, and what their rows hold there. */
export const keepMetTask = writersTask("keep what a reading met", ({ portal, feed: id, met, since }: ToKeep, viewer) => {
  if (viewer.kind !== "owner") throw new Error("A reading is the owner's to keep.");
  beside(portal, { met: importPath(met, "met") }, (file) =>
    transact(file, () => {
      const feed = feedById(file, id);
      if (!feed?.tableId) return;
      const table = sqlName(feed.tableId);
      if (since !== null) putBack(file, viewer as Owner, feed, since, (record) => isHere(file, record));
      file.db
        .prepare(
          `INSERT OR IGNORE INTO sys_source_records (feed_id, record_id, run) SELECT ?, h.id, 0 FROM met.here h JOIN ${table} t ON t.id = h.id`,
        )
        .run(id);
      const field = keyField(feed);
      if (field === null || !isOwn(feed)) return;
      // The rows that came lead: of a reading of changes they are few, and the table may be large.
      file.db
        .prepare(
          `UPDATE sys_source_records AS r SET own_key = s.key, seen = s.row
           FROM met.here h CROSS JOIN ${table} t CROSS JOIN met.seen s
           WHERE t.id = h.id AND s.key = CAST(t.${sqlName(field)} AS TEXT) AND r.feed_id = ? AND r.record_id = t.id
             AND (r.seen IS NOT s.row OR r.own_key IS NOT s.key)`,
        )
        .run(id);
    }),
  );
});

const isHere = (file: PortalFile, record: string): boolean =>
  file.db.prepare("SELECT 1 FROM met.here WHERE id = ?").get(record) !== undefined;

export const SOURCE_TASKS = [metTask, keepMetTask];
