/** The job that tells what waits. */
import type { PortalFile } from "@/data/file/open";
import { enqueue } from "@/data/jobs/queue";

export const TELL = "tell webhooks";

/** Queues one job for all that waits; there is only one, however many events come. */
export function wake(file: PortalFile, at: number): void {
  const soon = file.db.prepare("SELECT 1 FROM sys_jobs WHERE kind = ? AND state = 'waiting' AND run_at <= ? LIMIT 1").get(TELL, at);
  if (!soon) enqueue(file, TELL, {}, at);
}
