/** Works through the queues of portals, one job at a time for each portal, beside the requests that this process answers. */
import { held } from "../file/handles";
import type { PortalFile } from "../file/open";
import { isBusy, whenFree } from "../file/when-free";
import { claim, extend, fail, finish, type Job, nextDue } from "./queue";

/** Done for good, or thrown: then it is tried again. `Never` says that trying again is in vain. */
export type Work = (file: PortalFile, job: Job) => Promise<void>;
export class Never extends Error {}

const HEARTBEAT_MS = 20_000;
/** A timer cannot be set for longer than this (2^31 - 1 ms); nor need it be. */
const LONGEST_SLEEP_MS = 3600_000;
const LEAST_SLEEP_MS = 50;

/** A beat that finds the file busy is left out: a lease lasts three of them. */
function beatOf(file: PortalFile, job: Job & { readonly lease: string }, now: number): void {
  try {
    extend(file, job.id, job.lease, now);
  } catch (e) {
    if (!isBusy(e)) throw e;
  }
}

export class Runner {
  readonly #busy = new Map<string, Promise<void>>();
  readonly #timers = new Map<string, NodeJS.Timeout>();
  #stopped = false;

  constructor(
    private readonly work: Readonly<Record<string, Work>>,
    private readonly now: () => number = Date.now,
    private readonly told: (e: unknown, job: Job | null) => void = () => {},
  ) {}

  /** Looks at a portal's queue now, and again whenever something is due. */
  wake = (file: PortalFile): void => {
    if (this.#stopped || this.#busy.has(file.path)) return;
    clearTimeout(this.#timers.get(file.path));
    // Begins only after the transaction that asked for it has ended.
    const running = new Promise<void>((next) => setImmediate(next)).then(() => held(file, () => this.#drain(file))).catch(this.#later);
    this.#busy.set(
      file.path,
      running.finally(() => {
        this.#busy.delete(file.path);
        this.#sleep(file);
      }),
    );
  };

  /** A file that is busy for long is looked at again; the lease of the job at hand runs out, and it is taken up again. */
  #later = (e: unknown): void => this.told(e, null);

  async #drain(file: PortalFile): Promise<void> {
    for (;;) {
      await whenFree(file);
      const job = this.#stopped ? undefined : claim(file, Object.keys(this.work), this.now());
      if (!job) return;
      const beat = setInterval(() => beatOf(file, job, this.now()), HEARTBEAT_MS);
      try {
        await this.work[job.kind]!(file, job);
        await whenFree(file);
        finish(file, job.id, job.lease, this.now());
      } catch (e) {
        this.told(e, job);
        await whenFree(file);
        fail(file, job, e instanceof Error ? e.message : String(e), this.now(), e instanceof Never);
      } finally {
        clearInterval(beat);
      }
    }
  }

  #sleep(file: PortalFile): void {
    const due = this.#stopped ? null : nextDue(file, Object.keys(this.work));
    if (due === null) return;
    const wait = Math.min(LONGEST_SLEEP_MS, Math.max(LEAST_SLEEP_MS, due - this.now()));
    this.#timers.set(file.path, setTimeout(() => this.wake(file), wait).unref());
  }

  /** Ends after the jobs at hand; the others wait for the next process. */
  async stop(): Promise<void> {
    this.#stopped = true;
    for (const timer of this.#timers.values()) clearTimeout(timer);
    await Promise.allSettled(this.#busy.values());
  }
}
