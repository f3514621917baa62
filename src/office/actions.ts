"use server";
/** Undo and redo on the draft, of the parts that a room owns. */
import { PART_NAMES, type PartName } from "@/core/definition/definition";
import { moveDraft } from "@/data/definition/versions";
import { officePortalWrite } from "@/identity/requests/office-gate";
import { type DraftAnswer, told } from "./draft";

export async function stepDraft(slug: string, revision: number, by: -1 | 1, parts: readonly PartName[] | null): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "build");
  const named = parts?.filter((x) => PART_NAMES.includes(x)) ?? PART_NAMES;
  return told(p, moveDraft(p.file, p.owner, revision, by === 1 ? 1 : -1, named));
}
