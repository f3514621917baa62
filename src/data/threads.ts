/**
 * Work that would hold up the thread that answers requests is done in a thread of its own, where the process has any: the server does
 * (see `server/threads`). A script that answers nobody does it where it stands.
 */
import type { Viewer } from "@/core/access/who/viewer";
import { once } from "./file/per-process";
import { inTurn } from "./turns";

export type Told = (done: number) => void;
/** `ask` is copied to the thread. A viewer is not: the thread makes one anew of the same facts. */
export type Run = (task: string, ask: unknown, told: Told, viewer?: Viewer, limits?: Limits) => Promise<unknown>;

/** Of work on what strangers sent: it waits for no long work, and is broken off after so many milliseconds. */
export interface Limits {
  readonly deadline: number;
}

const threads = once("threads", (): { run: Run | null } => ({ run: null }));
/** Who runs tasks from now on; null has them done where they are asked for. */
export const runIn = (run: Run | null): void => void (threads.run = run);

/** The thread was broken off, as at the end of the process: what it did is to be done again. */
export class ThreadEnded extends Error {
  override message = "The thread ended without an answer.";
  readonly code = "THREAD_ENDED";
}
/** By its code: Next bundles a module once for each kind of entry, so the class that was thrown may be another copy. */
export const hasEnded = (e: unknown): boolean => (e as { code?: unknown } | null)?.code === "THREAD_ENDED";

/** `told` hears how far it is. */
export type Work<Ask, Answer> = (ask: Ask, told: Told) => Answer | Promise<Answer>;
export type ViewersWork<Ask, Answer> = (ask: Ask, viewer: Viewer) => Answer | Promise<Answer>;

const nobody: Told = () => {};

/** @throws What the work throws; of an error that crosses over, message and `code` arrive. */
export const task = <Ask, Answer>(name: string, work: Work<Ask, Answer>, limits?: Limits) => ({
  name,
  do: async (ask: Ask, told: Told = nobody): Promise<Answer> =>
    threads.run ? ((await threads.run(name, ask, told, undefined, limits)) as Answer) : await work(ask, told),
  here: (ask: unknown, told: Told): unknown => work(ask as Ask, told),
});

/** Work of somebody that changes much of a portal: one at a time there. */
export const writersTask = <Ask extends { readonly portal: string }, Answer>(name: string, work: ViewersWork<Ask, Answer>) => {
  const task = viewersTask(name, work);
  return { ...task, do: (ask: Ask, viewer: Viewer): Promise<Answer> => inTurn(ask.portal, () => task.do(ask, viewer)) };
};

/** Work that somebody asks for, and that they alone may see the outcome of. */
export const viewersTask = <Ask, Answer>(name: string, work: ViewersWork<Ask, Answer>) => ({
  name,
  do: async (ask: Ask, viewer: Viewer): Promise<Answer> =>
    threads.run ? ((await threads.run(name, ask, nobody, viewer)) as Answer) : await work(ask, viewer),
  here: (ask: unknown, _: Told, viewer?: Viewer): unknown => {
    if (!viewer) throw new Error(`${name} is asked for by somebody.`);
    return work(ask as Ask, viewer);
  },
});
