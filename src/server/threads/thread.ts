/** Threads for long tasks: one each, a few at a time, and with a limit of memory, so that a bad file ends its own thread and nothing else. */
import { Worker } from "node:worker_threads";
import { type Run, ThreadEnded, type Told } from "@/data/threads";

export interface Asked {
  readonly task: string;
  readonly ask: unknown;
  readonly owner: { readonly id: string; readonly name: string; readonly now: number; readonly timeZone: string } | undefined;
}
/** What a thread says: how far it is, and at the end the answer or what went wrong. */
export type Said =
  | { readonly done: number }
  | { readonly answer: unknown }
  | { readonly error: { readonly message: string; readonly code: string | undefined } };

const AT_ONCE = 2;
const MEMORY_MB = 768;

export class Threads {
  readonly #running = new Set<Worker>();
  readonly #waiting: (() => void)[] = [];

  /** @param file The bundle of `worker.ts`. */
  constructor(private readonly file: string) {}

  run: Run = async (task, ask, told, owner) => {
    while (this.#running.size >= AT_ONCE) await new Promise<void>((next) => this.#waiting.push(next));
    const person = owner?.person;
    const asked: Asked = {
      task,
      ask,
      owner: person ? { id: person.id, name: person.name, now: owner.now, timeZone: owner.timeZone } : undefined,
    };
    const worker = new Worker(this.file, { workerData: asked, resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } });
    this.#running.add(worker);
    try {
      return await outcome(worker, told);
    } finally {
      this.#running.delete(worker);
      this.#waiting.shift()?.();
    }
  };

  /** What is under way is broken off; files are left as a killed process leaves them. */
  end = async (): Promise<void> => {
    await Promise.all([...this.#running].map((w) => w.terminate()));
  };
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
