/**
 * Threads for long tasks: one each, a few at a time, and with a limit of memory, so that a bad file ends its own thread and nothing else.
 * What comes often comes in a row (an import is read, checked and brought in): a thread that is done stands ready for a while, since
 * starting takes as long as many a task, and code that has just run is quicker.
 */
import { Worker } from "node:worker_threads";
import type { Viewer, ViewerFacts } from "@/core/access/who/viewer";
import { type Limits, type Run, ThreadEnded, type Told } from "@/data/threads";

export interface Asked {
  readonly task: string;
  readonly ask: unknown;
  readonly viewer: ViewerFacts | undefined;
}
/** Of a thread with long work: it takes what others leave of the processors. */
export interface Rank {
  readonly behind: boolean;
}
/** What a thread says: how far it is, and at the end the answer or what went wrong. */
export type Said =
  | { readonly done: number }
  | { readonly answer: unknown }
  | { readonly error: { readonly message: string; readonly code: string | undefined } };

const AT_ONCE = 3;
/** Short work on what strangers sent has threads of its own, and few may wait for one. */
const SHORT_AT_ONCE = 2;
const SHORT_WAITING = 20;
const SHORT_MEMORY_MB = 128;
const MEMORY_MB = 768;
/** Milliseconds that one stands ready. */
const READY_FOR = 60_000;

export class Threads {
  readonly #running = new Set<Worker>();
  readonly #waiting: (() => void)[] = [];
  #ended = false;
  #ready: { readonly worker: Worker; readonly until: NodeJS.Timeout } | null = null;

  /** @param file The bundle of `worker.ts`. */
  constructor(private readonly file: string) {}

  run: Run = async (task, ask, told, viewer, limits) => {
    if (limits) return this.#short({ task, ask, viewer: viewer && factsOf(viewer) }, limits);
    while (this.#running.size >= AT_ONCE) await new Promise<void>((next) => this.#waiting.push(next));
    if (this.#ended) throw new ThreadEnded();
    const asked: Asked = { task, ask, viewer: viewer && factsOf(viewer) };
    const worker = this.#take();
    this.#running.add(worker);
    try {
      const answer = outcome(worker, told);
      worker.postMessage(asked);
      const said = await answer;
      this.#standReady(worker);
      return said;
    } catch (e) {
      void worker.terminate(); // whatever state it is in, nobody else shall have it
      throw e;
    } finally {
      this.#running.delete(worker);
      this.#waiting.shift()?.();
    }
  };

  readonly #shortRunning = new Set<Worker>();
  readonly #shortWaiting: (() => void)[] = [];

  /** In a thread that has done nothing before and does nothing after: what a stranger sent stays in it. */
  async #short(asked: Asked, { deadline }: Limits): Promise<unknown> {
    if (this.#shortWaiting.length >= SHORT_WAITING) throw new ThreadEnded();
    while (this.#shortRunning.size >= SHORT_AT_ONCE) await new Promise<void>((next) => this.#shortWaiting.push(next));
    if (this.#ended) throw new ThreadEnded();
    const worker = new Worker(this.file, { resourceLimits: { maxOldGenerationSizeMb: SHORT_MEMORY_MB } });
    this.#shortRunning.add(worker);
    // From when it runs: reading its own code is not the stranger's doing.
    let late: NodeJS.Timeout | undefined;
    worker.once("online", () => {
      late = setTimeout(() => void worker.terminate(), deadline);
    });
    try {
      const answer = outcome(worker, () => {});
      worker.postMessage(asked);
      return await answer;
    } finally {
      clearTimeout(late);
      void worker.terminate();
      this.#shortRunning.delete(worker);
      this.#shortWaiting.shift()?.();
    }
  }

  #start = (): Worker => {
    const workerData: Rank = { behind: true };
    return new Worker(this.file, { workerData, resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } });
  };

  #take(): Worker {
    const ready = this.#ready;
    this.#ready = null;
    if (!ready) return this.#start();
    clearTimeout(ready.until);
    hearNoMore(ready.worker);
    ready.worker.ref();
    return ready.worker;
  }

  /** Keeps nobody from ending the process. One is enough: those beyond it end. */
  #standReady(worker: Worker): void {
    hearNoMore(worker);
    if (this.#ready || this.#ended) {
      void worker.terminate();
      return;
    }
    const gone = (): void => {
      if (this.#ready?.worker === worker) this.#ready = null;
    };
    const until = setTimeout(() => {
      gone();
      void worker.terminate();
    }, READY_FOR);
    worker.on("error", gone);
    worker.on("exit", gone);
    worker.unref();
    until.unref();
    this.#ready = { worker, until };
  }

  /** What is under way is broken off, and what waits does not begin; files are left as a killed process leaves them. */
  end = async (): Promise<void> => {
    this.#ended = true;
    const ready = this.#ready;
    this.#ready = null;
    if (ready) clearTimeout(ready.until);
    await Promise.all([...this.#running, ...this.#shortRunning, ...(ready ? [ready.worker] : [])].map((w) => w.terminate()));
  };
}

/** Only these: Node adds listeners of its own to a worker, which it needs. */
function hearNoMore(worker: Worker): void {
  for (const event of ["message", "error", "exit"]) worker.removeAllListeners(event);
}

/** What was worked out for the viewer stays here. */
function factsOf({ worked: _, ...facts }: Viewer): ViewerFacts {
  return facts;
}

function outcome(worker: Worker, told: Told): Promise<unknown> {
  return new Promise((done, fail) => {
    worker.on("message", (said: Said) => {
      if ("done" in said) told(said.done);
      else if ("answer" in said) done(said.answer);
      else fail(Object.assign(new Error(said.error.message), { code: said.error.code }));
    });
    worker.on("error", fail);
    worker.on("exit", () => fail(new ThreadEnded()));
  });
}
