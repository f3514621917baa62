/**
 * Work of one transaction that stays whole or not at all, and may be refused from however deep within it, or only tried. Rooms neither
 * throw nor catch for that.
 */
import type Database from "better-sqlite3";
import { err, ok, type Result } from "@/core/result";
import { isFull } from "./full";
import type { Meta } from "./meta";
import { transact } from "./transact";

class Refusal extends Error {
  constructor(readonly reason: unknown) {
    super("Refused: nothing of it stays.");
  }
}

/** Ends the attempt that it is called in: nothing of it stays, and `attempt` answers this reason. */
export function refuse<E>(reason: E): never {
  throw new Refusal(reason);
}

/** The value, or the end of the attempt with its reason. */
export function orRefuse<T, E>(done: Result<T, E>): T {
  return done.ok ? done.value : refuse(done.error);
}

interface How<E> {
  /** Without it the work is undone once it is done: what it answers is what it would come to. */
  readonly really?: boolean;
  /** What a full disk is told as; else it is thrown, as any fault of the machine is. */
  readonly full?: E;
}

/**
 * What `work` answers, or why it was refused. Its reasons are of type `E`: whoever calls `refuse` within says the same. An attempt within
 * another keeps its own reasons; where it is refused, the other goes on.
 */
export function attempt<T, E = string>(
  file: { readonly db: Database.Database; readonly meta: Meta },
  work: () => T,
  { really = true, full }: How<E> = {},
): Result<T, E> {
  let tried: { readonly value: T } | undefined;
  try {
    const value = transact(file, () => {
      const done = work();
      if (really) return done;
      tried = { value: done };
      return refuse(null);
    });
    return ok(value);
  } catch (e) {
    if (e instanceof Refusal) return tried ? ok(tried.value) : err(e.reason as E);
    if (full !== undefined && isFull(e)) return err(full);
    throw e;
  }
}
