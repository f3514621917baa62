/** What is done at night with a portal's file, away from the thread that answers requests. */
import type { Owner } from "@/core/access/who/viewer";
import { portalFile } from "../file/open";
import { thinLog } from "../log/thin";
import { writersTask } from "../threads";
import { shrink } from "./shrink";

/** The log to its age, then room that nothing uses. Answers how many events went, and bytes. */
export const thinTask = writersTask("thin the log", async ({ portal }: { portal: string }, viewer) => {
  const file = portalFile(portal);
  if (!file || viewer.kind !== "owner") throw new Error(`There is no portal at ${portal} any more.`);
  const events = await thinLog(file, viewer as Owner, viewer.now);
  return { events, bytes: shrink(file) };
});
