/** Rows of one reading as they come: told apart by the key of the other system, and left out where a change from here is still on its way. */

import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { asFile } from "@/services/sources/as-file";
import { type SourceRows, type SourceTable, Troubled } from "@/services/sources/contract";
import { lastSend } from "./back/queue";
import type { Feed } from "./feeds";

/** Whether its records are known by the key of the other system itself: then changes can be read, and sent. */
export const isOwn = (feed: Feed): boolean =>
  feed.ownKey !== null && feed.plan?.key != null && feed.header?.[feed.plan.key] === feed.ownKey;

/** The field that holds the key. */
export function keyField(feed: Feed): string | null {
  const column = feed.plan?.key == null ? undefined : feed.plan.columns[feed.plan.key];
  return column?.to === "field" ? column.field : null;
}

/** Records with a change from here that has not arrived there, by the key of their rows. */
const unsent = (file: PortalFile, feed: Feed): Map<string, string> =>
  new Map(
    file.db
      .prepare(
        `SELECT r.own_key, r.record_id FROM sys_source_records r WHERE r.feed_id = @feed AND r.own_key IS NOT NULL
           AND EXISTS (SELECT 1 FROM sys_source_sends s WHERE s.feed_id = @feed AND s.record_id = r.record_id AND s.state IN ('waiting', 'asked'))`,
      )
      .raw()
      .all({ feed: feed.id }) as [string, string][],
  );

export class Came {
  readonly whole: boolean;
  /** Records whose rows are left out this time. */
  readonly heldBack: string[] = [];
  troubled: Error | null = null;
  /** The last change from here when the reading began. */
  readonly since: number;
  readonly #rows: SourceRows;
  readonly #own: boolean;
  readonly #at: number;
  readonly #unsent: Map<string, string>;
  /** Each row that came in, as JSON, by its key. */
  readonly #seen = new Map<string, string>();
  #first: readonly (readonly string[])[] | null = null;
  readonly #pieces: AsyncIterator<readonly (readonly string[])[]>;

  constructor(
    private readonly file: PortalFile,
    private readonly feed: Feed,
    rows: SourceRows,
  ) {
    this.#rows = rows;
    this.whole = rows.whole;
    this.#at = rows.key === null ? -1 : rows.header.indexOf(rows.key);
    this.#own = isOwn({ ...feed, ownKey: rows.key });
    this.since = lastSend(file);
    this.#unsent = this.#own ? unsent(file, feed) : new Map();
    this.#pieces = rows.pieces[Symbol.asyncIterator]();
  }

  /** Whether there is any row. @throws Troubled */
  async any(): Promise<boolean> {
    for (;;) {
      const { value, done } = await this.#pieces.next();
      if (done) return false;
      this.#first = value.filter((row) => this.#keeps(row));
      if (this.#first.length > 0) return true;
    }
  }

  table(): SourceTable {
    return asFile({ ...this.#rows, pieces: this.#all() });
  }

  async *#all(): AsyncGenerator<readonly (readonly string[])[]> {
    if (this.#first) yield this.#first;
    try {
      for (;;) {
        const { value, done } = await this.#pieces.next();
        if (done) return;
        yield value.filter((row) => this.#keeps(row));
      }
    } catch (e) {
      if (e instanceof Troubled) this.troubled = e;
      throw e;
    }
  }

  #keeps(row: readonly string[]): boolean {
    if (!this.#own) return true;
    const key = row[this.#at]!;
    const held = this.#unsent.get(key);
    if (held !== undefined) {
      this.heldBack.push(held);
      return false;
    }
    this.#seen.set(key, JSON.stringify(Object.fromEntries(this.#rows.header.map((c, i) => [c, row[i] ?? ""]))));
    return true;
  }

  /** Records whose rows are gone there, of a reading of changes. */
  lacking(): string[] {
    const { gone } = this.#rows.end();
    if (gone.length === 0) return [];
    const { id, tableId } = this.feed;
    return this.file.db
      .prepare(
        `SELECT r.record_id FROM sys_source_records r JOIN ${sqlName(tableId!)} t ON t.id = r.record_id
         WHERE r.feed_id = ? AND r.own_key IN (SELECT value FROM json_each(?))`,
      )
      .pluck()
      .all(id, JSON.stringify(gone)) as string[];
  }

  /** Once all is in: what each row held, and, where all could be read, from where changes are read the next time. */
  keep(all: boolean): void {
    const { file, feed } = this;
    const field = keyField(feed);
    transact(file, () => {
      file.db.prepare("UPDATE sys_source_feeds SET own_key = ? WHERE id = ?").run(this.#rows.key, feed.id);
      if (!this.#own || field === null) return;
      const put = file.db.prepare("UPDATE sys_source_records SET own_key = ?, seen = ? WHERE feed_id = ? AND record_id = ?");
      const ask = `SELECT t.id, CAST(t.${sqlName(field)} AS TEXT) FROM sys_source_records r JOIN ${sqlName(feed.tableId!)} t ON t.id = r.record_id WHERE r.feed_id = ?`;
      for (const [id, key] of file.db.prepare(ask).raw().all(feed.id) as [string, string | null][]) {
        const seen = key === null ? undefined : this.#seen.get(key);
        if (seen !== undefined) put.run(key, seen, feed.id, id);
      }
      if (!all) return;
      // Rows that were left out are read again with all the others.
      const { mark } = this.#rows.end();
      file.db
        .prepare("UPDATE sys_source_feeds SET mark = ? WHERE id = ?")
        .run(this.heldBack.length > 0 && this.whole ? null : mark, feed.id);
    });
  }
}
