/** Going to and fro: undo and redo on the draft, and earlier versions brought back as a draft. */
import { desc } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { type Definition, definitionProblems, PART_NAMES, type PartName, type PartValue, readPart } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";
import { schemaOf } from "../tables/read";
import { changeDraft, type DraftError, draftOf } from "./draft";
import { lastStep, moveTo, type StoredPart, stepAt, storedParts } from "./draft-parts";
import { definitionOf } from "./published";

export interface DraftMoves {
  /** What an undo would take back, and a redo bring again; null where there is none. */
  readonly undo: string | null;
  readonly redo: string | null;
}

/** Of these parts the one that moves: the one changed last that has such a step. */
function moving(file: PortalFile, stored: readonly StoredPart[], parts: readonly PartName[], by: -1 | 1): StoredPart | undefined {
  return stored
    .filter((p) => parts.includes(p.part))
    .sort((a, b) => b.revision - a.revision)
    .find((p) => (by === 1 ? lastStep(file, p.part) > p.step : p.step > 0 && stepAt(file, p.part, p.step - 1) !== undefined));
}

/** `parts` are those of the room that asks; the whole draft where none are named. */
export function draftMoves(file: PortalFile, _owner: Owner, parts: readonly PartName[] = PART_NAMES): DraftMoves {
  const stored = storedParts(file);
  const [back, forth] = [moving(file, stored, parts, -1), moving(file, stored, parts, 1)];
  return {
    undo: (back && stepAt(file, back.part, back.step)?.what) ?? null,
    redo: (forth && stepAt(file, forth.part, forth.step + 1)?.what) ?? null,
  };
}

/** One step back (-1) or forth (+1). A step that no longer fits the tables is refused like any change that would not. */
export function moveDraft(
  file: PortalFile,
  owner: Owner,
  revision: number,
  by: -1 | 1,
  parts: readonly PartName[] = PART_NAMES,
): Result<{ revision: number }, DraftError> {
  return transact(file, (): Result<{ revision: number }, DraftError> => {
    const draft = draftOf(file, owner);
    const part = moving(file, storedParts(file), parts, by);
    const step = part && stepAt(file, part.part, part.step + by);
    if (!part || !step) return err({ code: "invalid", messages: [by < 0 ? "There is nothing to undo." : "There is nothing to redo."] });
    // Whoever undoes takes back what they saw done, not what somebody has done to the same part since.
    if (part.revision > revision) return err({ code: "stale" });
    const then = readPart(part.part, JSON.parse(step.body) as PartValue);
    if (!then.ok) return err({ code: "invalid", messages: ["This step was made for an older Elkhorn and cannot be read any more."] });
    const problems = definitionProblems({ ...draft.definition, ...then.value }, schemaOf(file));
    if (problems.length > 0) return err({ code: "invalid", messages: problems });
    return ok({ revision: moveTo(file, part.part, step, new Date(owner.now).toISOString()) });
  });
}

export interface Version {
  readonly version: number;
  readonly at: string;
  readonly by: string;
  readonly note: string;
}

/** All that were published, the latest first. */
export const versions = (file: PortalFile, _owner: Owner): Version[] =>
  file.orm
    .select({ version: t.definitions.version, at: t.definitions.publishedAt, by: t.definitions.publishedBy, note: t.definitions.note })
    .from(t.definitions)
    .orderBy(desc(t.definitions.version))
    .all();

/** Makes an earlier version the draft: it holds for nobody until it is published, and can be undone like any change. */
export function bringBack(file: PortalFile, owner: Owner, revision: number, version: number): Result<{ revision: number }, DraftError> {
  const before = definitionOf(file, version);
  if (!before) return err({ code: "invalid", messages: [`There is no version ${version}.`] });
  if (!before.ok)
    return err({ code: "invalid", messages: [`Version ${version} was made for an older Elkhorn and cannot be read any more.`] });
  const done = changeDraft(file, owner, revision, () => before.value, `going back to version ${version}`);
  if (done.ok)
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "version-brought-back", detail: `version ${version}` });
  return done;
}

/** The definition of a published version, or undefined where there is none that can be read. */
export function definitionAt(file: PortalFile, _owner: Owner, version: number): Definition | undefined {
  const found = definitionOf(file, version);
  return found?.ok ? found.value : undefined;
}
