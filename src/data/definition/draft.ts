/** The draft: what it would be if it were published, and changes to it. Nothing of it holds for anybody. */
import type { Owner } from "@/core/access/who/viewer";
import {
  checkDefinition,
  type Definition,
  definitionProblems,
  PART_NAMES,
  type PartValue,
  partOf,
  readPart,
  writePart,
} from "@/core/definition/definition";
import { differing, merged } from "@/core/definition/part";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import { transact } from "../file/transact";
import { readMeta } from "../tables/meta";
import { schemaOf } from "../tables/read";
import { addStep, bodyAt, forgetDraft, storedParts } from "./draft-parts";
import { published } from "./published";

export interface Draft {
  readonly definition: Definition;
  /** Rises with each change; a form sends it back, so that a change is put beside what others did meanwhile. 0 where there is no draft. */
  readonly revision: number;
  readonly changed: boolean;
}

const drafts = new WeakMap<PortalFile, { key: string; draft: Draft }>();

/** Read once for each of its states. */
export function draftOf(file: PortalFile, _owner: Owner): Draft {
  const live = published(file);
  const key = `${live.version} ${live.policy.schema.version} ${readMeta(file, "draft_revision")} ${readMeta(file, "drafts_ended")}`;
  const known = drafts.get(file);
  if (known?.key === key) return known.draft;
  const draft = assembled(file, live.definition);
  drafts.set(file, { key, draft });
  return draft;
}

function assembled(file: PortalFile, live: Definition): Draft {
  const stored = storedParts(file);
  if (stored.length === 0) return { definition: live, revision: 0, changed: false };
  let definition: Definition = live;
  for (const p of stored) {
    const read = readPart(p.part, JSON.parse(p.body) as PartValue);
    if (!read.ok) throw new Error(`The draft's ${p.part} cannot be read: ${read.error.join(" ")}`);
    definition = { ...definition, ...read.value };
  }
  const changed = PART_NAMES.some((n) => JSON.stringify(partOf(definition, n)) !== JSON.stringify(partOf(live, n)));
  return { definition, revision: Math.max(...stored.map((p) => p.revision)), changed };
}

export type DraftError = { code: "stale" } | { code: "invalid"; messages: string[] };

/**
 * `edit` is made on the draft as its author saw it, at `revision`. What others changed since is kept beside it; where both changed the
 * same thing, the later is told and nothing is written.
 */
export function changeDraft(
  file: PortalFile,
  owner: Owner,
  revision: number,
  edit: (d: Definition) => Definition,
  what = "a change",
): Result<{ revision: number }, DraftError> {
  return transact(file, () => {
    const now = draftOf(file, owner);
    const seen = now.revision === revision ? now.definition : seenAt(file, now.definition, revision);
    const edited = seen && edit(structuredClone(seen));
    const whole = edited && together(now.definition, seen, edited);
    if (!whole) return err({ code: "stale" as const });
    const checked = checkDefinition(whole);
    if (!checked.ok) return err({ code: "invalid" as const, messages: checked.error });
    const problems = definitionProblems(checked.value, schemaOf(file));
    if (problems.length > 0) return err({ code: "invalid" as const, messages: problems });
    const at = new Date(owner.now).toISOString();
    let last = now.revision;
    for (const name of PART_NAMES) {
      const [before, after] = [partOf(now.definition, name), partOf(checked.value, name)];
      if (JSON.stringify(before) !== JSON.stringify(after))
        last = addStep(file, name, writePart(name, before), writePart(name, after), what, at);
    }
    return ok({ revision: last });
  });
}

/** The draft as it was at a revision, or null where that can no longer be told. */
function seenAt(file: PortalFile, now: Definition, revision: number): Definition | null {
  let seen = now;
  const live = published(file).definition;
  const drafted = new Set(storedParts(file).map((p) => p.part));
  for (const name of PART_NAMES) {
    if (!drafted.has(name)) continue;
    const body = bodyAt(file, name, revision);
    const read = body === undefined ? ok(partOf(live, name)) : readPart(name, JSON.parse(body) as PartValue);
    if (!read.ok) return null;
    seen = { ...seen, ...read.value };
  }
  return seen;
}

/** A form that was sent twice: what it adds was added meanwhile, under another id. */
function addedTwice(base: PartValue, mine: PartValue, theirs: PartValue): boolean {
  const added = (of: PartValue): string[] =>
    Object.entries(of).flatMap(([key, v]) =>
      Array.isArray(v) && Array.isArray(base[key])
        ? v.filter((x) => !(base[key] as { id: unknown }[]).some((b) => b.id === x.id)).map((x) => JSON.stringify([key, { ...x, id: "" }]))
        : [],
    );
  const there = new Set(added(theirs));
  return added(mine).some((x) => there.has(x));
}

/** Null where the same thing was changed on both sides. */
function together(now: Definition, seen: Definition, edited: Definition): Definition | null {
  let whole = now;
  for (const name of PART_NAMES) {
    const [base, theirs, mine] = [partOf(seen, name), partOf(now, name), partOf(edited, name)];
    const changed = differing(base, mine);
    const meanwhile = differing(base, theirs);
    if ([...changed].some((thing) => meanwhile.has(thing)) || addedTwice(base, mine, theirs)) return null;
    whole = { ...whole, ...(meanwhile.size === 0 ? mine : changed.size === 0 ? theirs : merged(base, mine, theirs)) };
  }
  return whole;
}

/** Afterwards the draft is as what is published; recorded. */
export function discardDraft(file: PortalFile, owner: Owner): void {
  transact(file, () => {
    forgetDraft(file);
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "draft-discarded" });
  });
}
