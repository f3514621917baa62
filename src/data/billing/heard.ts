/** Events of the provider as they came, each once whatever how often it comes; several that come at once are written in one transaction. */
import { and, asc, eq, isNull } from "drizzle-orm";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";

export interface Heard {
  readonly id: string;
  readonly type: string;
  readonly body: string;
  readonly at: number;
}

/** The ids of those that were new. */
export function writeHeard(file: PortalFile, events: readonly Heard[]): string[] {
  return transact(file, () =>
    events.flatMap((e) => (file.orm.insert(t.providerEvents).values(e).onConflictDoNothing().run().changes === 1 ? [e.id] : [])),
  );
}

/** What the provider has told that is not worked in yet, the oldest first. */
export const notDone = (file: PortalFile, most: number): Heard[] =>
  file.orm.select().from(t.providerEvents).where(isNull(t.providerEvents.doneAt)).orderBy(asc(t.providerEvents.at)).limit(most).all();

/** Marks what the provider told as worked in, or as failed with why. `at` in milliseconds. What is marked stays so. */
export const noteDone = (file: PortalFile, id: string, at: number, error: string | null): void =>
  void file.orm
    .update(t.providerEvents)
    .set({ doneAt: at, error })
    .where(and(eq(t.providerEvents.id, id), isNull(t.providerEvents.doneAt)))
    .run();

interface Waiting extends Heard {
  readonly heard: (fresh: boolean) => void;
  readonly failed: (e: unknown) => void;
}

/** Milliseconds that an event may wait for others to be written with. */
const TOGETHER_MS = 15;
const waiting = new WeakMap<PortalFile, Waiting[]>();

/** Whether it is new; told when it stands in the file for good. */
export function hear(file: PortalFile, e: Heard): Promise<boolean> {
  return new Promise((heard, failed) => {
    const list = waiting.get(file);
    const one = { ...e, heard, failed };
    if (list) return void list.push(one);
    const fresh = [one];
    waiting.set(file, fresh);
    setTimeout(() => {
      waiting.delete(file);
      writeAll(file, fresh);
    }, TOGETHER_MS);
  });
}

function writeAll(file: PortalFile, list: readonly Waiting[]): void {
  try {
    const fresh = new Set(
      writeHeard(
        file,
        list.map(({ id, type, body, at }) => ({ id, type, body, at })),
      ),
    );
    for (const w of list) w.heard(fresh.delete(w.id));
  } catch (e) {
    for (const w of list) w.failed(e);
  }
}
