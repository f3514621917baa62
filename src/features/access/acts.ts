"use server";
/** Acts of the portal's own: named, on a table, setting what was settled beforehand. Who may do them, grants say. */
import { z } from "zod";
import { type Act, actSchema } from "@/core/access/act";
import { newId } from "@/data/file/ids";
import { officePortalWrite } from "@/identity/office-gate";
import { changeInDraft, type DraftAnswer } from "@/office/draft";

const input = z.object({ revision: z.number().int(), act: actSchema.omit({ id: true }).extend({ id: z.string().nullable() }) });

export async function saveAct(
  slug: string,
  asked: { revision: number; act: Omit<Act, "id"> & { id: string | null } },
): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "build");
  const parsed = input.safeParse(asked);
  if (!parsed.success) return { ok: false, messages: [...new Set(parsed.error.issues.map((i) => i.message))] };
  const { revision, act } = parsed.data;
  return changeInDraft(
    p,
    revision,
    (d) => {
      const before = d.acts.find((a) => a.id === act.id);
      const next: Act = { ...act, id: before?.id ?? `a_${newId().replaceAll("-", "")}` };
      return { ...d, acts: before ? d.acts.map((a) => (a.id === next.id ? next : a)) : [...d.acts, next] };
    },
    `the act ${act.name}`,
  );
}

/** Grants that opened it open the rest of what they did; one that opened nothing else goes with it. */
export async function removeAct(slug: string, revision: number, id: string): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "build");
  return changeInDraft(
    p,
    revision,
    (d) => ({
      ...d,
      acts: d.acts.filter((a) => a.id !== id),
      grants: d.grants
        .map((g) => (g.acts?.includes(id) ? { ...g, acts: g.acts.filter((a) => a !== id) } : g))
        .filter((g) => g.actions.length + (g.acts?.length ?? 0) > 0),
    }),
    "taking an act away",
  );
}
