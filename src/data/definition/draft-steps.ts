/** The steps that a draft went through. Undo and redo walk along them; a new change cuts off what was undone before it. */
import { desc, eq, gt, lt } from "drizzle-orm";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";

/** Older steps are let go. */
const MOST_STEPS = 200;

/** Keeps a change as the step after the one at hand, with the state it began from where it is the first. */
export function rememberStep(file: PortalFile, before: string, after: string, what: string): number {
  const draft = file.orm.select().from(t.draft).get();
  const at = new Date().toISOString();
  const here = draft?.step ?? 0;
  file.orm.delete(t.draftSteps).where(gt(t.draftSteps.n, here)).run();
  file.orm.insert(t.draftSteps).values({ n: here, body: before, what: "", at }).onConflictDoNothing().run();
  const n = here + 1;
  file.orm.insert(t.draftSteps).values({ n, body: after, what, at }).run();
  file.orm
    .delete(t.draftSteps)
    .where(lt(t.draftSteps.n, n - MOST_STEPS))
    .run();
  return n;
}

export const forgetSteps = (file: PortalFile): void => void file.orm.delete(t.draftSteps).run();

/** The step of that number: its body, and what was done to come to it. */
export const stepAt = (file: PortalFile, n: number): { body: string; what: string } | undefined =>
  file.orm.select({ body: t.draftSteps.body, what: t.draftSteps.what }).from(t.draftSteps).where(eq(t.draftSteps.n, n)).get();

export const lastStep = (file: PortalFile): number =>
  file.orm.select({ n: t.draftSteps.n }).from(t.draftSteps).orderBy(desc(t.draftSteps.n)).limit(1).get()?.n ?? 0;
