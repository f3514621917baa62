/** What readings of other systems leave behind, however often they are made. */
import type { PortalFile } from "@/data/file/open";

/** Readings that ended before then; a feed's latest stays, whenever that was. `before` in milliseconds. */
export const sweepReadings = (file: PortalFile, before: number): void =>
  void file.db
    .prepare("DELETE FROM sys_source_runs WHERE ended_at < ? AND n NOT IN (SELECT max(n) FROM sys_source_runs GROUP BY feed_id)")
    .run(before);

/** Imports that were given up: a reading that finds nothing new is one. `before` in milliseconds. */
export const sweepGivenUp = (file: PortalFile, before: number): void =>
  void file.db.prepare("DELETE FROM sys_imports WHERE state = 'given up' AND created_at < ?").run(new Date(before).toISOString());
