/**
 * Work that would hold up the thread that answers requests is done in a thread of its own, where the process has any: the server does
 * (see `server/threads`). A script that answers nobody does it where it stands.
 */
import type { Owner } from "@/core/access/viewer";
import { once } from "./file/once";

export type Told = (done: number) => void;
/** `ask` is copied to the thread. An owner is not: the thread makes its own of the same person. */
export type Run = (task: string, ask: unknown, told: Told, owner?: Owner) => Promise<unknown>;

const threads = once("threads", (): { run: Run | null } => ({ run: null }));
export const runIn = (run: Run): void => void (threads.run = run);

/** The thread was broken off, as at the end of the process: what it did is to be done again. */
export class ThreadEnded extends Error {
  override message = "The thread ended without an answer.";
}

/** `told` hears how far it is. */
export type Work<Ask, Answer> = (ask: Ask, told: Told) => Answer | Promise<Answer>;
export type OwnersWork<Ask, Answer> = (ask: Ask, owner: Owner) => Answer | Promise<Answer>;

const nobody: Told = () => {};

/** @throws What the work throws; of an error that crosses over, message and `code` arrive. */
export const task = <Ask, Answer>(name: string, work: Work<Ask, Answer>) => ({
  name,
  do: async (ask: Ask, told: Told = nobody): Promise<Answer> =>
    threads.run ? ((await threads.run(name, ask, told)) as Answer) : await work(ask, told),
  here: (ask: unknown, told: Told): unknown => work(ask as Ask, told),
});

export const ownersTask = <Ask, Answer>(name: string, work: OwnersWork<Ask, Answer>) => ({
  name,
  do: async (ask: Ask, owner: Owner): Promise<Answer> =>
    threads.run ? ((await threads.run(name, ask, nobody, owner)) as Answer) : await work(ask, owner),
  here: (ask: unknown, _: Told, owner?: Owner): unknown => {
    if (!owner) throw new Error(`${name} is an owner's to do.`);
    return work(ask as Ask, owner);
  },
});
