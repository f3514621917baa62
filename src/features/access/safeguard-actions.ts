"use server";
/** Safeguards in the draft: kept, withdrawn, brought back. */
import { z } from "zod";
import { safeguardProblems, safeguardSchema } from "@/core/access/safeguards";
import type { Definition } from "@/core/definition/definition";
import { draftOf } from "@/data/definition/draft";
import { newId } from "@/data/file/ids";
import { jsonOf, whole, word } from "@/identity/requests/takes";
import { officeAction, officeCall } from "@/office/action";
import { whoIs } from "@/office/checking";
import { changeInDraft, type DraftAnswer } from "@/office/draft";
import type { Undoable } from "@/ui/undoable-button";
import { accessView } from "./queries";

const asked = safeguardSchema.omit({ id: true });

/** What is wrong stands beside the part of the sentence that it speaks of; the rest above the form. */
const BESIDE = {
  role: "Choose a role.",
  company: "Choose a company.",
  person: "Choose a person.",
  table: "Choose a table.",
  field: "Choose a field.",
  n: "Write a whole number, 0 or more.",
} as const;
export type SafeguardErrors = Partial<Record<keyof typeof BESIDE | "form", string>>;
export type SafeguardAnswer = { ok: true } | { ok: false; errors: SafeguardErrors };

export const addSafeguard = officeCall("build", [whole, z.unknown()], async (p, revision, input): Promise<SafeguardAnswer> => {
  const parsed = asked.safeParse(input);
  if (!parsed.success) {
    const errors: SafeguardErrors = {};
    for (const issue of parsed.error.issues) {
      const part = String(issue.path[issue.path.length - 1] ?? "");
      if (Object.hasOwn(BESIDE, part)) errors[part as keyof typeof BESIDE] = BESIDE[part as keyof typeof BESIDE];
      else errors.form = "This safeguard could not be read. Load the page again.";
    }
    return { ok: false, errors };
  }
  const v = accessView(p);
  const s = { id: `s_${newId().replaceAll("-", "")}`, ...parsed.data };
  const problems = safeguardProblems(s, v.policy, whoIs(p));
  if (problems.length > 0) return { ok: false, errors: { form: problems.join(" ") } };
  const same = (x: typeof s): string => JSON.stringify(asked.parse({ subject: x.subject, table: x.table, claim: x.claim }));
  if (v.definition.safeguards.some((x) => same(x) === same(s)))
    return { ok: false, errors: { form: "This safeguard stands in the list already." } };
  const done = changeInDraft(p, revision, (d) => ({ ...d, safeguards: [...d.safeguards, s] }), "a new safeguard");
  return done.ok ? done : { ok: false, errors: { form: done.messages.join(" ") } };
});

export const withdrawSafeguard = officeAction("build", [word, whole], async (p, id, revision): Promise<Undoable> => {
  const s = draftOf(p.file, p.owner).definition.safeguards.find((x) => x.id === id);
  if (!s) return { ok: false, messages: ["This safeguard is withdrawn already."] };
  const rest = (d: Definition): Definition => ({ ...d, safeguards: d.safeguards.filter((x) => x.id !== id) });
  const done = changeInDraft(p, revision, rest, "withdrawing a safeguard");
  return done.ok ? { ok: true, undo: JSON.stringify(s) } : done;
});

/** Undo of a withdrawal. */
export const restoreSafeguard = officeAction("build", [jsonOf(safeguardSchema)], async (p, s): Promise<DraftAnswer> => {
  const { revision } = draftOf(p.file, p.owner);
  return changeInDraft(
    p,
    revision,
    (d) => ({ ...d, safeguards: [...d.safeguards.filter((x) => x.id !== s.id), s] }),
    "bringing back a safeguard",
  );
});
