"use server";
/** Other systems: connected, chosen from, read, paused, disconnected. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { word } from "@/identity/requests/takes";
import { officeAction } from "@/office/action";
import { staleSignIn } from "@/office/fresh";
import { noteTablesOut } from "@/office/sources/back/queue";
import { sendNow, setOut, settle } from "@/office/sources/back/ways";
import { addFeed, dropFeed, EVERY, feedById, feedsOf, pauseFeed, RULES, readNow, runsOf, setFeed } from "@/office/sources/feeds";
import { adapterOf, addSource, dropSource, settingsFor, sourceById } from "@/office/sources/sources";
import { SOURCE_KINDS } from "@/services/sources";

const asked = z.strictObject({
  name: z.string().max(100),
  kind: z.enum(SOURCE_KINDS),
  settings: z.record(z.string().max(50), z.string().max(2_000)),
});

type Said<T = object> = ({ ok: true } & T) | { ok: false; messages: string[] };
const no = (message: string): { ok: false; messages: string[] } => ({ ok: false, messages: [message] });
const GONE = no("This is gone, or has changed meanwhile. Load the page again.");

export const connect = officeAction(
  "build",
  [asked],
  async (p, given): Promise<{ ok: true; id: string } | { ok: false; field: string; message: string }> => {
    const stale = staleSignIn(p);
    if (stale) return { ok: false, field: "", message: stale };
    const made = await addSource(p.file, p.owner, given);
    if (!made.ok) return { ok: false, ...made.error };
    revalidatePath(p.at, "layout");
    return { ok: true, id: made.value.id };
  },
);

/** What there is to choose from, asked of the other system now. */
export const choices = officeAction(
  "build",
  [word],
  async (p, id): Promise<Said<{ objects: { id: string; name: string; taken: boolean }[] }>> => {
    const source = sourceById(p.file, id);
    if (!source) return GONE;
    const found = await adapterOf(source.kind).objects(settingsFor(p.file, source));
    if (!found.ok) return no(found.error.message);
    const taken = new Set(feedsOf(p.file, id).map((f) => f.object));
    return { ok: true, objects: found.value.map((o) => ({ ...o, taken: taken.has(o.id) })) };
  },
);

const only = z.strictObject({ column: z.string().min(1).max(100), values: z.array(z.string().max(500)).min(1).max(100) }).nullable();

/** How long the owner's page waits for the rows before it shows how far they are, in milliseconds. */
const PATIENCE = 5_000;

/** Fetches the rows of one, to be mapped as a file is: the address of that page, or of the system's own where it takes longer. */
export const take = officeAction("build", [word, word, word, only], async (p, id, object, name, some): Promise<Said<{ to: string }>> => {
  const source = sourceById(p.file, id);
  if (!source) return GONE;
  const feed = addFeed(p.file, id, { id: object, name }, some);
  readNow(p.file, feed, Date.now());
  for (const end = Date.now() + PATIENCE; Date.now() < end; ) {
    await new Promise((r) => setTimeout(r, 50));
    const now = feedById(p.file, feed);
    if (!now) return GONE;
    if (now.importId !== null) {
      revalidatePath(p.at, "layout");
      return { ok: true, to: `${p.at}/data/import/${now.importId}` };
    }
    const [run] = runsOf(p.file, feed, 1);
    if (run?.state !== "failed") continue;
    dropFeed(p.file, p.owner, feed);
    return no(run.message ?? "It failed.");
  }
  revalidatePath(p.at, "layout");
  return { ok: true, to: `${p.at}/connections/systems/${id}` };
});

const settings = z.strictObject({
  every: z.union(EVERY.map((m) => z.literal(m))).nullable(),
  gone: z.enum(["leave", "remove"]),
  key: z.int().min(0).max(200),
});

export const saveFeed = officeAction("build", [word, settings], (p, id, given): Said => {
  const done = setFeed(p.file, p.owner, id, given);
  if (!done.ok) return no(done.error);
  revalidatePath(p.at, "layout");
  return { ok: true };
});

export const readIt = officeAction("build", [word], (p, id): Said => {
  const feed = feedById(p.file, id);
  if (!feed || (!feed.plan && feed.importId !== null) || feed.pausedAt !== null) return GONE;
  readNow(p.file, id, Date.now());
  return { ok: true };
});

const out = z.strictObject({
  ways: z.record(word, z.enum(["both", "out"])),
  makes: z.boolean(),
  rule: z.enum(RULES),
});

export const saveOut = officeAction("build", [word, out], (p, id, given): Said => {
  const done = setOut(p.file, p.owner, id, given);
  if (!done.ok) return no(done.error);
  revalidatePath(p.at, "layout");
  return { ok: true };
});

export const settleIt = officeAction(
  "build",
  [z.int().min(1), z.enum(["ours", "theirs"])],
  (p, n, stays): Said => told(p, settle(p.file, p.owner, n, stays)),
);
export const tryNow = officeAction("build", [word], (p, id): Said => {
  if (!feedById(p.file, id)) return GONE;
  sendNow(p.file, id, Date.now());
  return { ok: true };
});

function told(p: OfficePortal, done: boolean): Said {
  if (done) revalidatePath(p.at, "layout");
  return done ? { ok: true } : GONE;
}
function stopped(p: OfficePortal, done: boolean): Said {
  if (done) noteTablesOut(p.file);
  return told(p, done);
}
export const pause = officeAction("build", [word], (p, id): Said => told(p, pauseFeed(p.file, p.owner, id, true)));
export const resume = officeAction("build", [word], (p, id): Said => {
  const done = pauseFeed(p.file, p.owner, id, false);
  if (done) sendNow(p.file, id, Date.now());
  return told(p, done);
});
export const stopReading = officeAction("build", [word], (p, id): Said => stopped(p, dropFeed(p.file, p.owner, id)));
export const disconnect = officeAction("build", [word], (p, id): Said => stopped(p, dropSource(p.file, p.owner, id)));
