"use server";
/** Acts of the portal's own: named, on a table, setting what was settled beforehand. Who may do them, grants say. */
import { z } from "zod";
import { type Act, actSchema } from "@/core/access/act";
import { err, ok, type Result } from "@/core/result";
import { kindOf } from "@/core/schema/types";
import { newId } from "@/data/file/ids";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { whole, word } from "@/identity/requests/takes";
import { officeAction } from "@/office/action";
import { changeInDraft, type DraftAnswer } from "@/office/draft";

const input = z.object({ revision: z.number().int(), act: actSchema.omit({ id: true }).extend({ id: z.string().nullable() }) });

export const saveAct = officeAction("build", [input], async (p, asked): Promise<DraftAnswer> => {
  const { revision } = asked;
  const read = withNumbers(p, asked.act);
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
});

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
export const removeAct = officeAction("build", [whole, word], async (p, revision, id): Promise<DraftAnswer> => {
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
});
