"use server";
/** Records of one person or company made one, and people removed: tried first, and undone from where it was done or from the bin. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { attempt, orRefuse } from "@/data/file/attempt";
import { mergeInto, type PartingTrial, removePerson } from "@/data/parting/parting";
import { restore } from "@/data/records/desk";
import { words, yes } from "@/identity/requests/takes";
import { officeAction, officeCall } from "@/office/action";

export type PartingAnswer = { ok: true; trials: PartingTrial[] } | { ok: false; message: string };

const id = z.string().min(1).max(64);
const MOST = 500;
const asked = z.discriminatedUnion("act", [
  z.object({ act: z.literal("merge"), of: z.enum(["people", "companies"]), stays: id, goes: id }),
  z.object({
    act: z.literal("remove"),
    ids: z.array(id).min(1).max(MOST),
    leaving: z.discriminatedUnion("kind", [
      z.object({ kind: z.literal("hand"), to: id }),
      z.object({ kind: z.literal("clear") }),
      z.object({ kind: z.literal("keep") }),
    ]),
  }),
]);

/** With `really` it is done; else it is only tried. */
export const part = officeAction("people", [asked, yes], async (p, given, really): Promise<PartingAnswer> => {
  const ask = given;
  // All of them go, or nobody.
  const done = attempt(p.file, () =>
    ask.act === "remove"
      ? [...new Set(ask.ids)].map((x) => orRefuse(removePerson(p.file, p.owner, x, ask.leaving, really)))
      : [orRefuse(mergeInto(p.file, p.owner, ask.of, ask.stays, ask.goes, really))],
  );
  if (!done.ok) return { ok: false, message: done.error };
  if (really) revalidatePath(p.at, "layout");
  return { ok: true, trials: done.value };
});

/** What cannot come back is said; the others do. */
export const takePartingBack = officeCall("people", [words], async (p, ids): Promise<{ back: number; problem: string | null }> => {
  let [back, problem] = [0, null as string | null];
  for (const x of ids.slice(0, MOST).map(String)) {
    const done = restore(p.desk, x);
    if (done.ok) back++;
    else problem = done.error.code === "invalid" ? (done.error.errors[0]?.message ?? null) : "It is not in the bin any more.";
  }
  revalidatePath(p.at, "layout");
  return { back, problem };
});
