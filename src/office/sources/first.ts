/** The first rows of a feed, fetched into an import that the owner maps. It says how far it is, can be paused, and begins anew after a kill. */
import type { Owner } from "@/core/access/who/viewer";
import type { PortalFile } from "@/data/file/open";
import { beginImport } from "@/data/imports/jobs";
import { ThreadEnded } from "@/data/threads";
import { asFile } from "@/services/sources/as-file";
import { MOST_SOURCE_BYTES, type SourceAdapter, type SourceRows, Troubled } from "@/services/sources/contract";
import { timely } from "@/services/sources/timely";
import { Ended, isEnding } from "./ended";
import { type Feed, feedById, fetched } from "./feeds";
import { type Source, settingsFor } from "./sources";

export interface Reading {
  readonly adapter: (s: Source) => SourceAdapter;
  readonly owner: () => Owner;
  /** Who works here hears that it was paused. */
  readonly tellStaff: (file: PortalFile, source: Source, feed: Feed, why: string) => void;
  /** Sends what is to go to other systems. */
  readonly sendFirst: (file: PortalFile) => Promise<void>;
  readonly now: () => number;
}

export async function fetchFirst(file: PortalFile, source: Source, feed: Feed, r: Reading): Promise<void> {
  if (feed.pausedAt !== null) return;
  const set = (state: string, message: string | null): void =>
    void file.db
      .prepare("UPDATE sys_source_runs SET state = ?, message = ?, added = 0, ended_at = ? WHERE n = ?")
      .run(state, message, r.now(), n);
  file.db
    .prepare("UPDATE sys_source_runs SET state = 'failed', message = ?, ended_at = ? WHERE feed_id = ? AND state = 'running'")
    .run("It was stopped half way, and has begun again.", r.now(), feed.id);
  const began = file.db.prepare("INSERT INTO sys_source_runs (feed_id, at, state) VALUES (?, ?, 'running')").run(feed.id, r.now());
  const n = Number(began.lastInsertRowid);
  let rows: SourceRows | null = null;
  const told: { trouble: Error | null } = { trouble: null };
  try {
    const came = await r.adapter(source).read(settingsFor(file, source), feed.object, null, feed.only);
    if (!came.ok) throw new Ended(came.error.message, true);
    rows = "pieces" in came.value ? came.value : null;
    const table = "pieces" in came.value ? asFile({ ...came.value, pieces: counted(file, feed.id, n, came.value, told) }) : came.value;
    const begun = await beginImport(file, r.owner(), table.fileName, table.body, MOST_SOURCE_BYTES).catch(() => {
      throw told.trouble ?? new Ended("It broke off while it was read.", true);
    });
    if (!begun.ok) throw told.trouble ?? new Ended(begun.error, true);
    fetched(file, feed.id, begun.value.id, rows?.key ?? null);
    set("done", "Its rows are here: map its columns.");
  } catch (e) {
    if (isEnding()) {
      set("failed", "Elkhorn was stopped meanwhile. It begins again.");
      throw new ThreadEnded(); // the next process begins anew
    }
    if (!(e instanceof Ended || e instanceof Troubled)) {
      set("failed", "It failed on our side.");
      throw e;
    }
    set("failed", e.message);
  }
}

/** Says after each piece how many came, and ends where it was paused or stopped meanwhile. */
async function* counted(
  file: PortalFile,
  feed: string,
  run: number,
  rows: SourceRows,
  told: { trouble: Error | null },
): AsyncGenerator<readonly (readonly string[])[]> {
  const put = file.db.prepare("UPDATE sys_source_runs SET added = ? WHERE n = ?");
  let n = 0;
  try {
    for await (const piece of timely(rows.pieces, { broken: isEnding })) {
      const now = feedById(file, feed);
      if (!now || now.pausedAt !== null) throw new Ended("It was paused before all had come.", true);
      n += piece.length;
      put.run(n, run);
      yield piece;
    }
  } catch (e) {
    told.trouble = e as Error;
    throw e;
  }
}
