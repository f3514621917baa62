/**
 * A change of tables that the rules must follow: live version and draft are changed alike, in the transaction of the change itself
 * (docs/design: settled 9). What cannot follow is named, and then nothing is changed.
 */
import type { Owner } from "@/core/access/who/viewer";
import { checkDefinition, type Definition, definitionProblems, PART_NAMES, partOf, writePart } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "../file/open";
import { schemaOf } from "../tables/read";
import { draftOf } from "./draft";
import { addStep, forgetDraft } from "./draft-parts";
import { published, storePublished } from "./published";

/** To be called within a transaction that is undone where this refuses; the schema is already as it is to be. */
export function reshape(
  file: PortalFile,
  owner: Owner,
  edit: (d: Definition, which: "live" | "draft") => Definition,
  why: string,
): Result<null, string[]> {
  const live = published(file).definition;
  const draft = draftOf(file, owner);
  const [next, drafted] = [edit(structuredClone(live), "live"), edit(structuredClone(draft.definition), "draft")];
  const schema = schemaOf(file);
  const problems = new Set<string>();
  for (const d of draft.changed ? [next, drafted] : [next]) {
    const checked = checkDefinition(d);
    for (const p of checked.ok ? definitionProblems(checked.value, schema) : checked.error) problems.add(p);
  }
  if (problems.size > 0) return err([...problems]);
  const at = new Date(owner.now).toISOString();
  if (JSON.stringify(next) !== JSON.stringify(live)) {
    const by = { actor: actorOf(owner), name: owner.person?.name ?? "", at: owner.now };
    storePublished(file, next, by, why);
  } else if (draft.changed) forgetDraft(file);
  // What was drafted stays drafted, as one step: earlier ones speak of tables as they were.
  if (draft.changed)
    for (const name of PART_NAMES) {
      const [before, after] = [partOf(next, name), partOf(drafted, name)];
      if (JSON.stringify(before) !== JSON.stringify(after))
        addStep(file, name, writePart(name, before), writePart(name, after), "earlier changes", at);
    }
  return ok(null);
}
