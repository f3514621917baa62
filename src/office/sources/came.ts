/** Rows of one reading as they come: told apart by the key of the other system, and left out where a change from here is still on its way. */

import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "@/data/file/open";
import { asFile } from "@/services/sources/as-file";
import { type SourceRows, type SourceTable, Troubled } from "@/services/sources/contract";
import { timely } from "@/services/sources/timely";
import { lastSend } from "./back/queue";
import { isEnding } from "./ended";
import { type Feed, isOwn } from "./feeds";
import type { Met } from "./met";

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
  #first: readonly (readonly string[])[] | null = null;
  readonly #pieces: AsyncGenerator<readonly (readonly string[])[]>;

  constructor(
    private readonly file: PortalFile,
    private readonly feed: Feed,
    rows: SourceRows,
    private readonly met: Met,
  ) {
    this.#rows = rows;
    this.whole = rows.whole;
    this.#at = rows.key === null ? -1 : rows.header.indexOf(rows.key);
    this.#own = isOwn({ ...feed, ownKey: rows.key });
    this.since = lastSend(file);
    this.#unsent = this.#own ? unsent(file, feed) : new Map();
    this.#pieces = timely(rows.pieces, { broken: isEnding });
  }

  /** Whether there is any row. @throws Troubled */
  async any(): Promise<boolean> {
    for (;;) {
      const { value, done } = await this.#pieces.next();
      if (done) return false;
      this.#first = this.#kept(value);
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
        yield this.#kept(value);
      }
    } catch (e) {
      if (e instanceof Troubled) this.troubled = e;
      throw e;
    }
  }

  /** The rows that come in; those with a change on its way from here are left out. */
  #kept(rows: readonly (readonly string[])[]): readonly (readonly string[])[] {
    if (!this.#own) return rows;
    const { header } = this.#rows;
    const seen: [string, string][] = [];
    const kept = rows.filter((row) => {
      const key = row[this.#at]!;
      const held = this.#unsent.get(key);
      if (held !== undefined) this.heldBack.push(held);
      else seen.push([key, JSON.stringify(Object.fromEntries(header.map((c, i) => [c, row[i] ?? ""])))]);
      return held === undefined;
    });
    this.met.saw(seen);
    return kept;
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

  /** Once all is in, and all could be read: from where changes are read the next time. Rows that were left out are read again with all others. */
  keepMark(): void {
    if (!this.#own) return;
    const mark = this.heldBack.length > 0 && this.whole ? null : this.#rows.end().mark;
    this.file.db.prepare("UPDATE sys_source_feeds SET mark = ? WHERE id = ?").run(mark, this.feed.id);
  }

  /** By which column its rows are told apart is what it says now. */
  keepKey(): void {
    this.file.db.prepare("UPDATE sys_source_feeds SET own_key = ? WHERE id = ?").run(this.#rows.key, this.feed.id);
  }
}
