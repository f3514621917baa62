"use server";
/** The steps of an import: what the file is, how it is mapped, what it would do, brought in and taken back. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import { fills, type ImportPlan, importPlanSchema, type PlanProblem, planProblems } from "@/core/exchange/import-plan";
import { takeFilesAway } from "@/data/imports/archives";
import { bringInImport, giveUpImport, importJob, readAgain as readFileAgain, startCheck, takeBackImport } from "@/data/imports/jobs";
import { suggestPlan } from "@/data/imports/proposing/suggest";
import { type Losses, undoLosses } from "@/data/imports/undo";
import { word, yes } from "@/identity/requests/takes";
import { companySettings } from "@/joining/company-settings";
import { officeAction, officeCall } from "@/office/action";

export type PlanAnswer = { ok: true } | { ok: false; problems: PlanProblem[] };
const GONE = "This import is gone. Drop the file again.";

/** How the columns would go into that table, or into a new one (null). */
export const proposePlan = officeCall("build", [word, word.nullable()], async (p, id, into): Promise<ImportPlan | null> => {
  const job = importJob(p.file, p.owner, id);
  if (!job || (into !== null && !p.live.policy.schema.findTable(into))) return null;
  return suggestPlan(
    { file: p.file, owner: p.owner, analysis: job.analysis, fileName: job.fileName, leads: companySettings(p.file).leads },
    into,
  );
});

export const checkPlan = officeCall("build", [word, z.unknown()], async (p, id, plan): Promise<PlanAnswer> => {
  const job = importJob(p.file, p.owner, id);
  if (!job) return { ok: false, problems: [{ at: -1, message: GONE }] };
  const parsed = importPlanSchema.safeParse({ ...(plan as object), currency: p.live.definition.portal.currency });
  if (!parsed.success) {
    const at = (i: z.core.$ZodIssue): number => (i.path[0] === "columns" && typeof i.path[1] === "number" ? i.path[1] : -1);
    return { ok: false, problems: parsed.error.issues.map((i) => ({ at: at(i), message: i.message })) };
  }
  const problems = planProblems(parsed.data, job.analysis.header, p.live.policy.schema, p.live.definition.roles);
  if (problems.length > 0) return { ok: false, problems };
  const started = startCheck(p.file, p.owner, id, parsed.data);
  return started.ok ? { ok: true } : { ok: false, problems: [{ at: -1, message: started.error }] };
});

const mending = z.array(
  z.object({
    at: z.int().min(0),
    /** Folded text of the file, and the id of the record to take it for. */
    as: z.record(z.string().max(400), z.string().max(64)),
    add: z.boolean(),
  }),
);

/** Checks again with names taken for others, and with missing records made. */
export const checkMended = officeCall("build", [word, z.unknown()], async (p, id, given): Promise<PlanAnswer> => {
  const job = importJob(p.file, p.owner, id);
  const parsed = mending.safeParse(given);
  if (!job?.plan || !parsed.success) return { ok: false, problems: [{ at: -1, message: GONE }] };
  const columns = job.plan.columns.map((c, at) => {
    const mend = parsed.data.find((m) => m.at === at);
    if (!mend || !fills(c)) return c;
    return { ...c, as: { ...c.as, ...mend.as }, add: mend.add || c.add };
  });
  return checkPlan(p.slug, id, { ...job.plan, columns });
});

const asked = z.object({ sheet: z.int().min(0).max(1000), headerAt: z.int().min(0).max(100).nullable() });

/** Another sheet of a workbook, or another row of names. */
export const readAgain = officeAction(
  "build",
  [word, asked],
  async (p, id, given): Promise<{ ok: true } | { ok: false; message: string }> => {
    const done = await readFileAgain(p.file, p.owner, id, given);
    return done.ok ? { ok: true } : { ok: false, message: done.error };
  },
);

export const bringIn = officeAction(
  "build",
  [word],
  async (p, id): Promise<{ ok: true; table: string; rows: number } | { ok: false; message: string }> => {
    const done = await bringInImport(p.file, p.owner, id);
    revalidatePath(`/portals/${p.slug}`, "layout");
    return done.ok ? { ok: true, table: done.value.table, rows: done.value.rows } : { ok: false, message: done.error };
  },
);

export const giveUp = officeCall("build", [word], async (p, id): Promise<void> => {
  giveUpImport(p.file, p.owner, id);
  redirect(`${p.at}/data`);
});

export type TakenBack =
  | { ok: true; removed: number; restored: number; left: number }
  /** What would be lost, to be decided about. */
  | { ok: false; message: string; losses: Losses | null };

export const takeBack = officeCall("build", [word, yes], async (p, id, leave): Promise<TakenBack> => {
  const done = await takeBackImport(p.file, p.owner, id, leave);
  revalidatePath(`/portals/${p.slug}`, "layout");
  if (done.ok) return { ok: true, ...done.value };
  return { ok: false, message: done.error, losses: undoLosses(p.file, p.owner, id) ?? null };
});

/** Takes the ZIP of files away again. */
export const withoutFiles = officeAction("build", [word], async (p, id): Promise<{ ok: true }> => {
  takeFilesAway(p.file, p.owner, id);
  revalidatePath(`/portals/${p.slug}/data/import/${id}`);
  return { ok: true };
});
