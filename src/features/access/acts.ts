"use server";
/** Acts of the portal's own: named, on a table, setting what was settled beforehand. Who may do them, grants say. */
import { z } from "zod";
import { type Act, actSchema } from "@/core/access/act";
import { err, ok, type Result } from "@/core/result";
import { kindOf } from "@/core/schema/types";
import { newId } from "@/data/file/ids";
import { type OfficePortal, officePortalWrite } from "@/identity/requests/office-gate";
import { changeInDraft, type DraftAnswer } from "@/office/draft";

const input = z.object({ revision: z.number().int(), act: actSchema.omit({ id: true }).extend({ id: z.string().nullable() }) });

export async function saveAct(
  slug: string,
  asked: { revision: number; act: Omit<Act, "id"> & { id: string | null } },
): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "build");
  const parsed = input.safeParse(asked);
  if (!parsed.success) return { ok: false, messages: [...new Set(parsed.error.issues.map((i) => i.message))] };
  const { revision } = parsed.data;
  const read = withNumbers(p, parsed.data.act);
  if (!read.ok) return { ok: false, messages: [read.error] };
  const act = read.value;
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

/** Numbers and amounts come as they were written, and are kept as their field keeps them: pence, not pounds. */
function withNumbers<A extends Pick<Act, "sets">>(p: OfficePortal, act: A): Result<A, string> {
  const sets: Act["sets"] = [];
  for (const s of act.sets) {
    const field = p.live.policy.schema.findField(s.field);
    if (!field || s.to.kind !== "literal" || typeof s.to.value !== "string" || kindOf(field).literal !== "number") {
      sets.push(s);
      continue;
    }
    const value = kindOf(field).parse([s.to.value], field, p.live.definition.portal);
    if (!value.ok || typeof value.value !== "number") return err(`${field.name}: ${value.ok ? "write a number." : value.error}`);
    sets.push({ field: s.field, to: { kind: "literal", value: value.value } });
  }
  return ok({ ...act, sets });
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
