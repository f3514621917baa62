"use server";
/** Webhooks: set up, changed, tried, paused, removed; and a telling sent again. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { conditionSchema } from "@/core/schema/condition";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { word } from "@/identity/requests/takes";
import { officeAction } from "@/office/action";
import { staleSignIn } from "@/office/fresh";
import { TELLING } from "@/office/telling";
import { leadsInside } from "@/services/outside/guarded";
import { addHook, changeHook, dropHook, HOOK_KINDS, type HookKind, hookById, newHookSecret, pauseHook, resumeHook } from "@/webhooks/hooks";
import { addTest, sendAgain, sendById } from "@/webhooks/sends";
import { tell } from "@/webhooks/tell";

const settings = z.strictObject({
  name: z.string().max(100),
  url: z.string().max(2_000),
  kinds: z
    .array(z.enum(HOOK_KINDS as [HookKind, ...HookKind[]]))
    .max(200)
    .readonly(),
  table: word.nullable(),
  filter: conditionSchema.nullable(),
  role: word,
  company: word.nullable(),
});

type Saved = { ok: true; id: string; secret: string | null } | { ok: false; field: string; message: string };
type Done = { ok: true } | { ok: false; messages: string[] };
const GONE: Done = { ok: false, messages: ["This webhook is gone, or has changed meanwhile. Load the page again."] };

export const saveHook = officeAction("build", [word.nullable(), settings], async (p, id, asked): Promise<Saved> => {
  const stale = staleSignIn(p);
  if (stale) return { ok: false, field: "", message: stale };
  // Told now rather than by the first event; the client that posts looks again.
  if (URL.canParse(asked.url) && (await leadsInside(asked.url)))
    return { ok: false, field: "url", message: "This address leads into the installation's own network, where nothing is sent." };
  if (id !== null) {
    const changed = changeHook(p.file, p.owner, id, asked);
    if (!changed.ok) return { ok: false, ...changed.error };
    revalidatePath(p.at, "layout");
    return { ok: true, id, secret: null };
  }
  const made = addHook(p.file, p.owner, asked);
  if (!made.ok) return { ok: false, ...made.error };
  revalidatePath(p.at, "layout");
  return { ok: true, ...made.value };
});

export const replaceSecret = officeAction("build", [word], (p, id): { ok: true; secret: string } | { ok: false; messages: string[] } => {
  const stale = staleSignIn(p);
  if (stale) return { ok: false, messages: [stale] };
  const secret = newHookSecret(p.file, p.owner, id);
  if (!secret) return { ok: false, messages: ["This webhook is gone."] };
  revalidatePath(p.at, "layout");
  return { ok: true, secret };
});

/** Posts something now, and says what came back. */
export const tryHook = officeAction(
  "build",
  [word],
  async (p, id): Promise<{ ok: true; taken: boolean; said: string } | { ok: false; messages: string[] }> => {
    if (!hookById(p.file, id)) return { ok: false, messages: ["This webhook is gone."] };
    const send = addTest(p.file, id, TELLING.now());
    await tell(p.file, sendById(p.file, send)!, TELLING);
    revalidatePath(p.at, "layout");
    const done = sendById(p.file, send);
    if (!done) return { ok: false, messages: ["This webhook is gone."] };
    const said = done.status === null ? (done.answer ?? "Nothing was sent.") : `It answered ${done.status}.`;
    return { ok: true, taken: done.state === "taken", said };
  },
);

function told(p: OfficePortal, done: boolean): Done {
  if (done) revalidatePath(p.at, "layout");
  return done ? { ok: true } : GONE;
}
export const pause = officeAction("build", [word], (p, id): Done => told(p, pauseHook(p.file, p.owner, id)));
export const resume = officeAction("build", [word], (p, id): Done => told(p, resumeHook(p.file, p.owner, id)));
export const removeHook = officeAction("build", [word], (p, id): Done => told(p, dropHook(p.file, p.owner, id)));

export const tellAgain = officeAction("build", [word, word], (p, hook, send): Done => {
  if (!sendAgain(p.file, hook, send, TELLING.now())) return { ok: false, messages: ["This one waits already, or is gone."] };
  revalidatePath(p.at, "layout");
  return { ok: true };
});
