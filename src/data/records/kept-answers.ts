/** Answers to writes that came with a key of their own, so that the same one sent again is not done again. */
import type { PortalFile } from "../file/open";

const KEPT = 86_400_000;

/** What was asked and answered under this name within a day. `now` in milliseconds. */
export const keptAnswer = (file: PortalFile, name: string, now: number): { asked: string; answer: string } | undefined =>
  file.db.prepare("SELECT asked, answer FROM sys_kept_answers WHERE name = ? AND at > ?").get(name, now - KEPT) as
    | { asked: string; answer: string }
    | undefined;

/** Within the transaction of the write itself. */
export function keepAnswer(file: PortalFile, name: string, asked: string, answer: string, now: number): void {
  file.db.prepare("INSERT OR REPLACE INTO sys_kept_answers (name, asked, answer, at) VALUES (?, ?, ?, ?)").run(name, asked, answer, now);
}

/** At night. */
export const sweepAnswers = (file: PortalFile, now: number): void =>
  void file.db.prepare("DELETE FROM sys_kept_answers WHERE at <= ?").run(now - KEPT);
