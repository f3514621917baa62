/** Work that may take longer than a page should: done in slices beside other requests, and remembered until something changes. */
import { dateIn } from "@/core/time/relative";
import { lastEvent } from "../events/record";
import { held } from "../file/handles";
import type { PortalFile } from "../file/open";
import type { Published } from "./published";

export interface Working {
  readonly state: "working";
  readonly done: number;
  readonly of: number;
}
/** Told once to whoever asks; the next to ask begins anew. */
export interface Failed {
  readonly state: "failed";
}
export interface Ready<T> {
  readonly state: "ready";
  readonly value: T;
}
export type Outcome<T> = Ready<T> | Working | Failed;

/** Other requests are answered in between: the work rests after each slice of this many milliseconds. */
const SLICE = 25;
/** As long as a page may wait before it shows progress instead. */
const PATIENCE = 700;

/** Work that may be done for every page. */
const QUICK = 200;
const SELDOM = 60_000;

/** Handed to the work, which asks whether a rest is due: `if (pace.due()) await pace.rest(done, of)`. */
export class Pace {
  progress: Working = { state: "working", done: 0, of: 1 };
  #since = Date.now();
  #resting: Promise<void> | null = null;
  due = (): boolean => Date.now() - this.#since >= SLICE;
  /** Several that work at once rest together: one after the other, each would begin a slice of its own before anybody else is answered. */
  async rest(done: number, of: number): Promise<void> {
    this.progress = { state: "working", done, of };
    this.#resting ??= new Promise<void>((next) => setImmediate(next)).then(() => {
      this.#since = Date.now();
      this.#resting = null;
    });
    await this.#resting;
  }
}

interface Job<T> {
  readonly stamp: string;
  readonly pace: Pace;
  readonly ended: Promise<void>;
  outcome: Ready<T> | Failed | null;
  readonly begun: number;
  readonly took: number | null;
  /** The last outcome that is known. Its stamp may be older than the one that is worked out now. */
  last: { readonly stamp: string; readonly value: T } | null;
}

/** One kind of work in the background: one job at a time for each portal and name. */
export class Background<T> {
  readonly #jobs = new Map<string, Job<T>>();

  /** `stamp` is what the result depends on: the same stamp, the same result. */
  ask(file: PortalFile, name: string, stamp: string, work: (pace: Pace) => Promise<T>): Outcome<T> {
    const key = `${file.path} ${name}`;
    let job = this.#jobs.get(key);
    if (job?.stamp !== stamp || !job) this.#jobs.set(key, (job = begin(stamp, (pace) => held(file, () => work(pace)), job?.last ?? null)));
    if (job.outcome?.state === "failed") this.#jobs.delete(key);
    return job.outcome ?? job.pace.progress;
  }

  /** Waits for all of the work, however long it takes; whoever waits shows its progress as their own. Throws where it fails. */
  async whole(file: PortalFile, name: string, stamp: string, work: (pace: Pace) => Promise<T>, waiting?: Pace): Promise<T> {
    let first = this.ask(file, name, stamp, work);
    // An earlier failure is not this one's: it begins anew.
    if (first.state === "failed") first = this.ask(file, name, stamp, work);
    if (first.state === "ready") return first.value;
    const job = this.#jobs.get(`${file.path} ${name}`);
    while (job && !job.outcome) {
      await Promise.race([job.ended, new Promise((next) => setTimeout(next, SLICE))]);
      if (waiting) waiting.progress = job.pace.progress;
    }
    if (job?.outcome?.state !== "ready") throw new Error(`The work "${name}" failed.`);
    return job.outcome.value;
  }

  /**
   * For a word at the side, which must not make every page do long work: where something has changed, work that is not quick is
   * done at most once a minute, and until then this is what it last came to, if that was for a stamp of the same beginning.
   */
  async lately(file: PortalFile, name: string, stamp: string, work: (pace: Pace) => Promise<T>, beginning: string): Promise<T | null> {
    const key = `${file.path} ${name}`;
    const job = this.#jobs.get(key);
    if (!job || job.stamp === stamp || (job.took ?? Number.POSITIVE_INFINITY) < QUICK || Date.now() - job.begun >= SELDOM) {
      const outcome = await this.soon(file, name, stamp, work);
      if (outcome.state === "ready") return outcome.value;
    }
    const last = this.#jobs.get(key)?.last;
    return last?.stamp.startsWith(beginning) ? last.value : null;
  }

  /** Waits a little for work that is nearly done anyway. */
  async soon(file: PortalFile, name: string, stamp: string, work: (pace: Pace) => Promise<T>): Promise<Outcome<T>> {
    const first = this.ask(file, name, stamp, work);
    if (first.state !== "working") return first;
    const job = this.#jobs.get(`${file.path} ${name}`)!;
    await Promise.race([job.ended, new Promise((late) => setTimeout(late, PATIENCE))]);
    return this.ask(file, name, stamp, work);
  }
}

function begin<T>(stamp: string, work: (pace: Pace) => Promise<T>, last: Job<T>["last"]): Job<T> {
  const pace = new Pace();
  const job = { stamp, pace, outcome: null, begun: Date.now(), took: null, last } as { -readonly [K in keyof Job<T>]: Job<T>[K] };
  job.ended = work(pace).then(
    (value) => {
      job.outcome = { state: "ready", value };
      job.took = Date.now() - job.begun;
      job.last = { stamp, value };
    },
    (e) => {
      console.error(e);
      job.outcome = { state: "failed" };
    },
  );
  return job;
}

/** How every stamp of these rules begins: what came out for one speaks of them, be it of older records. */
export const stampOfRules = (live: Published, revision: number): string => `${live.version} ${revision} `;

/** Changes whenever what is counted of a portal may come out otherwise: rules, tables, anything written down, the day. */
export function stampOf(file: PortalFile, live: Published, revision: number, now: number): string {
  const rest = [live.policy.schema.version, lastEvent(file), dateIn(now, live.definition.portal.timeZone)];
  return stampOfRules(live, revision) + rest.join(" ");
}
