/** A thread that does one task after another. Bundled apart from the server (see scripts/prepare.mjs), since Next knows nothing of it. */
import { readlinkSync } from "node:fs";
import { setPriority } from "node:os";
import { basename } from "node:path";
import { parentPort, workerData } from "node:worker_threads";
import { policyIndexesTask } from "@/data/definition/policy-indexes";
import { bringInLate, closeFiles, waitForLocks } from "@/data/file/open";
import { IMPORT_TASKS } from "@/data/imports/tasks";
import { thinTask } from "@/data/installation/night";
import { indexTask } from "@/data/records/query/follow";
import { SHAPING_TASKS } from "@/data/schema/tasks";
import { exportTask } from "@/features/api/export-task";
import { moveTask } from "@/features/data/moving";
import { makePeopleTask } from "@/features/people/making";
import { samlTask } from "@/identity/providers/saml-verify";
import { sameViewer } from "@/identity/viewers/viewer";
import { SOURCE_TASKS } from "@/office/sources/met";
import { feedEvents } from "../feeds";
import type { Asked, Rank, Said } from "./thread";

feedEvents();

standBehind();

/** Milliseconds. Nobody is kept from an answer by this thread's waiting. */
const PATIENCE = 20_000;

/**
 * Where processors are few, whoever waits for a page comes first: Linux ranks threads one by one, as setpriority(2) says of PRIO_PROCESS. Elsewhere
 * the thread has no number to be ranked by, and stays as it is.
 */
function standBehind(): void {
  if (!(workerData as Rank | null)?.behind) return;
  try {
    setPriority(Number(basename(readlinkSync("/proc/thread-self"))), 10);
  } catch (e) {
    if (!["ENOENT", "ERR_SYSTEM_ERROR"].includes(String((e as { code?: string }).code))) throw e;
  }
}

const say = (said: Said): void => parentPort!.postMessage(said);

async function work({ task, ask, viewer }: Asked): Promise<Said> {
  try {
    const found = [
      ...IMPORT_TASKS,
      ...SHAPING_TASKS,
      ...SOURCE_TASKS,
      thinTask,
      moveTask,
      makePeopleTask,
      exportTask,
      indexTask,
      samlTask,
      policyIndexesTask,
    ].find((t) => t.name === task);
    if (!found) throw new Error(`No task is called ${task}.`);
    return { answer: await found.here(ask, (done) => say({ done }), viewer && sameViewer(viewer)) };
  } catch (e) {
    const { message, code } = e as Error & { code?: string };
    return { error: { message, code } };
  }
}

waitForLocks(PATIENCE);
bringInLate();
parentPort!.on("message", async (asked: Asked) => {
  say(await work(asked));
  closeFiles();
});
