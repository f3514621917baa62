/** Who changes much in a portal at once waits for whoever does so already: the file has one writer, and its lock is not waited for long. */
import { once } from "./file/per-process";

const last = once("turns of long writers", () => new Map<string, Promise<unknown>>());

/** Runs `work` once everything that was asked for before it in this portal is over, however that ended. */
export function inTurn<T>(portal: string, work: () => Promise<T>): Promise<T> {
  const mine = (last.get(portal) ?? Promise.resolve()).then(work, work);
  const over = mine.then(
    () => undefined,
    () => undefined,
  );
  last.set(portal, over);
  void over.then(() => {
    if (last.get(portal) === over) last.delete(portal);
  });
  return mine;
}
