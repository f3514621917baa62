/** Storing a change in the draft, and telling why it could not be stored: for every editor of this room alike. */
import { revalidatePath } from "next/cache";
import { changeDraft, type DraftError } from "@/data/definition/draft";
import type { OfficePortal } from "@/identity/requests/office-gate";

/** `revision` is the draft as the change left it: what is changed next goes on from there. */
/** `stale`: somebody else changed the same thing since it was looked at. */
export type DraftAnswer = { ok: true; revision?: number } | { ok: false; messages: string[]; stale?: true };

const STALE = "Somebody changed the draft meanwhile. Load the page again; what you chose here is not lost until you do.";

export function told(p: OfficePortal, done: { ok: true; value?: { revision: number } } | { ok: false; error: DraftError }): DraftAnswer {
  revalidatePath(p.at, "layout");
  if (done.ok) return { ok: true, ...(done.value ? { revision: done.value.revision } : {}) };
  return done.error.code === "stale" ? { ok: false, messages: [STALE], stale: true } : { ok: false, messages: done.error.messages };
}

/** `what` names the change for undo and redo. */
export const changeInDraft = (p: OfficePortal, revision: number, edit: Parameters<typeof changeDraft>[3], what: string): DraftAnswer =>
  told(p, changeDraft(p.file, p.owner, revision, edit, what));
