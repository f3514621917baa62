/** Going to and fro: undo and redo on the draft, and earlier versions brought back as a draft. */

import { desc, eq } from "drizzle-orm";
import type { Owner } from "@/core/access/viewer";
import { type Definition, definitionProblems, definitionSchema } from "@/core/definition";
import { err, ok, type Result } from "@/core/result";
import { audit } from "../events/audit";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { schemaOf } from "../schema/registry";
import { changeDraft, type DraftError, draftOf, storeDraft } from "./definitions";
import { lastStep, stepAt } from "./draft-steps";

export interface DraftMoves {
  /** What an undo would take back, and a redo bring again; null where there is none. */
  readonly undo: string | null;
  readonly redo: string | null;
}

const here = (file: PortalFile): number => file.orm.select({ step: t.draft.step }).from(t.draft).get()?.step ?? 0;

export function draftMoves(file: PortalFile, _owner: Owner): DraftMoves {
  const n = here(file);
  // The step before may have been let go: then there is nothing to go back to.
  return {
    undo: n > 0 && stepAt(file, n - 1) ? (stepAt(file, n)?.what ?? null) : null,
    redo: lastStep(file) > n ? (stepAt(file, n + 1)?.what ?? null) : null,
  };
}

/** One step back (-1) or forth (+1). A step that no longer fits the tables is refused like any change that would not. */
export function moveDraft(file: PortalFile, owner: Owner, revision: number, by: -1 | 1): Result<{ revision: number }, DraftError> {
  return file.db.transaction((): Result<{ revision: number }, DraftError> => {
    if (draftOf(file, owner).revision !== revision) return err({ code: "stale" });
    const to = here(file) + by;
    const step = stepAt(file, to);
    if (!step) return err({ code: "invalid", messages: [by < 0 ? "There is nothing to undo." : "There is nothing to redo."] });
    const then = definitionSchema.safeParse(JSON.parse(step.body));
    const problems = then.success
      ? definitionProblems(then.data, schemaOf(file))
      : ["This step was made for an older Elkhorn and cannot be read any more."];
    if (problems.length > 0) return err({ code: "invalid", messages: problems });
    return ok({ revision: storeDraft(file, step.body, to) });
  })();
}

export interface Version {
  readonly version: number;
  readonly at: string;
  readonly by: string;
  readonly note: string;
}

export const versions = (file: PortalFile, _owner: Owner): Version[] =>
  file.orm
    .select({ version: t.definitions.version, at: t.definitions.publishedAt, by: t.definitions.publishedBy, note: t.definitions.note })
    .from(t.definitions)
    .orderBy(desc(t.definitions.version))
    .all();

/** Makes an earlier version the draft: it holds for nobody until it is published, and can be undone like any change. */
export function bringBack(file: PortalFile, owner: Owner, revision: number, version: number): Result<{ revision: number }, DraftError> {
  const row = file.orm.select().from(t.definitions).where(eq(t.definitions.version, version)).get();
  if (!row) return err({ code: "invalid", messages: [`There is no version ${version}.`] });
  const before = definitionSchema.safeParse(JSON.parse(row.body));
  if (!before.success)
    return err({ code: "invalid", messages: [`Version ${version} was made for an older Elkhorn and cannot be read any more.`] });
  const done = changeDraft(file, owner, revision, () => before.data, `going back to version ${version}`);
  if (done.ok) audit(file, { actor: owner.person?.name ?? "owner", act: "brought back", detail: `version ${version}` });
  return done;
}

/** The definition of a published version, or undefined where there is none that can be read. */
export function definitionAt(file: PortalFile, _owner: Owner, version: number): Definition | undefined {
  const row = file.orm.select().from(t.definitions).where(eq(t.definitions.version, version)).get();
  return row && definitionSchema.safeParse(JSON.parse(row.body)).data;
}
