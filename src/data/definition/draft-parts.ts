/**
 * The draft as it is stored: the parts that differ from the published version, each with the steps that it went through. Undo and redo
 * walk along the steps of one part, so two people changing different parts do not undo each other. Every state that somebody may have
 * looked at has a revision, so that a change made from it is put beside what came since.
 */
import { and, desc, eq, gt, lt, lte } from "drizzle-orm";
import type { PartName } from "@/core/definition/definition";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { nextNumber } from "../tables/meta";

/** Older steps are let go. */
const MOST_STEPS = 200;

export interface StoredPart {
  readonly part: PartName;
  readonly body: string;
  readonly revision: number;
  readonly step: number;
}

export const storedParts = (file: PortalFile): StoredPart[] =>
  file.orm
    .select({ part: t.draftParts.part, body: t.draftParts.body, revision: t.draftParts.revision, step: t.draftParts.step })
    .from(t.draftParts)
    .all() as StoredPart[];

export interface Step {
  readonly id: number;
  readonly n: number;
  readonly body: string;
  readonly what: string;
}
const columns = { id: t.draftSteps.id, n: t.draftSteps.n, body: t.draftSteps.body, what: t.draftSteps.what };
const standing = (part: PartName) => and(eq(t.draftSteps.part, part), eq(t.draftSteps.gone, 0));

/** The step of that number: what stood after it, and what was done to come to it. */
export const stepAt = (file: PortalFile, part: PartName, n: number): Step | undefined =>
  file.orm
    .select(columns)
    .from(t.draftSteps)
    .where(and(standing(part), eq(t.draftSteps.n, n)))
    .get();

export const lastStep = (file: PortalFile, part: PartName): number =>
  file.orm.select(columns).from(t.draftSteps).where(standing(part)).orderBy(desc(t.draftSteps.n)).limit(1).get()?.n ?? 0;

/** Writes a part as a step has it, under a revision of its own. */
export function moveTo(file: PortalFile, part: PartName, step: Step, at: string): number {
  const revision = nextNumber(file, "draft_revision");
  const row = { part, body: step.body, revision, step: step.n, changedAt: at };
  file.orm.insert(t.draftParts).values(row).onConflictDoUpdate({ target: t.draftParts.part, set: row }).run();
  file.orm.insert(t.draftRevisions).values({ revision, part, stepId: step.id }).run();
  return revision;
}

/** A change as the step after the one at hand; a new change cuts off what was undone before it. `before` is where the first one began. */
export function addStep(file: PortalFile, part: PartName, before: string, after: string, what: string, at: string): number {
  const here = file.orm.select({ step: t.draftParts.step }).from(t.draftParts).where(eq(t.draftParts.part, part)).get()?.step;
  if (here === undefined) {
    const first = file.orm.insert(t.draftSteps).values({ part, n: 0, body: before, what: "", at, gone: 0 }).returning(columns).get();
    file.orm
      .insert(t.draftRevisions)
      .values({ revision: nextNumber(file, "draft_revision"), part, stepId: first.id })
      .run();
  }
  const n = (here ?? 0) + 1;
  file.orm
    .update(t.draftSteps)
    .set({ gone: 1 })
    .where(and(standing(part), gt(t.draftSteps.n, n - 1)))
    .run();
  const step = file.orm.insert(t.draftSteps).values({ part, n, body: after, what, at, gone: 0 }).returning(columns).get();
  file.orm
    .delete(t.draftSteps)
    .where(and(eq(t.draftSteps.part, part), lt(t.draftSteps.n, n - MOST_STEPS)))
    .run();
  return moveTo(file, part, step, at);
}

/** What stood when the draft was at that revision; undefined where that is let go, or the part had not been changed yet. */
export const bodyAt = (file: PortalFile, part: PartName, revision: number): string | undefined =>
  file.orm
    .select({ body: t.draftSteps.body })
    .from(t.draftRevisions)
    .innerJoin(t.draftSteps, eq(t.draftSteps.id, t.draftRevisions.stepId))
    .where(and(eq(t.draftRevisions.part, part), lte(t.draftRevisions.revision, revision)))
    .orderBy(desc(t.draftRevisions.revision))
    .limit(1)
    .get()?.body;

export function forgetDraft(file: PortalFile): void {
  file.orm.delete(t.draftParts).run();
  file.orm.delete(t.draftRevisions).run();
  file.orm.delete(t.draftSteps).run();
  nextNumber(file, "drafts_ended"); // whoever remembers the draft as it was reads it anew
}
