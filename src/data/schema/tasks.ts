/** What shaping does with all values of a table, away from the thread that answers requests. */
import type { Owner, Viewer } from "@/core/access/who/viewer";
import { portalFile } from "../file/open";
import type { PortalFile } from "../file/portal-file";
import { writersTask } from "../threads";
import { retype, tryRetype } from "./retype";
import type { RetypeAsk } from "./retype-convert";

interface Ask extends RetypeAsk {
  readonly portal: string;
}

function at(portal: string, viewer: Viewer): { file: PortalFile; owner: Owner } {
  const file = portalFile(portal);
  if (!file) throw new Error(`There is no portal at ${portal} any more.`);
  if (viewer.kind !== "owner") throw new Error("Tables are the owner's to shape.");
  return { file, owner: viewer as Owner };
}

export const tryRetypeTask = writersTask("try another type", ({ portal, ...ask }: Ask, viewer) => {
  const { file, owner } = at(portal, viewer);
  return tryRetype(file, owner, ask);
});
export const retypeTask = writersTask("give another type", ({ portal, ...ask }: Ask, viewer) => {
  const { file, owner } = at(portal, viewer);
  return retype(file, owner, ask);
});

export const SHAPING_TASKS = [tryRetypeTask, retypeTask];
