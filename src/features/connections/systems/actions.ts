"use server";
/** Other systems: connected, chosen from, read, paused, disconnected. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { beginImport } from "@/data/imports/jobs";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { word } from "@/identity/requests/takes";
import { officeAction } from "@/office/action";
import { staleSignIn } from "@/office/fresh";
import { addFeed, dropFeed, EVERY, feedById, feedsOf, pauseFeed, readNow, setFeed } from "@/office/sources/feeds";
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

/** Fetches all rows of one, to be mapped as a file is. The address of that page. */
export const take = officeAction("build", [word, word, word], async (p, id, object, name): Promise<Said<{ to: string }>> => {
  const source = sourceById(p.file, id);
  if (!source) return GONE;
  const came = await adapterOf(source.kind).read(settingsFor(p.file, source), object);
  if (!came.ok) return no(came.error.message);
  const begun = await beginImport(p.file, p.owner, came.value.fileName, came.value.body).catch(() => null);
  if (!begun) return no("It broke off while it was read. Try again in a moment.");
  if (!begun.ok) return no(begun.error);
  addFeed(p.file, id, { id: object, name }, begun.value.id);
  revalidatePath(p.at, "layout");
  return { ok: true, to: `${p.at}/data/import/${begun.value.id}` };
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
  if (!feed?.plan || feed.pausedAt !== null) return GONE;
  readNow(p.file, id, Date.now());
  return { ok: true };
});

function told(p: OfficePortal, done: boolean): Said {
  if (done) revalidatePath(p.at, "layout");
  return done ? { ok: true } : GONE;
}
export const pause = officeAction("build", [word], (p, id): Said => told(p, pauseFeed(p.file, p.owner, id, true)));
export const resume = officeAction("build", [word], (p, id): Said => told(p, pauseFeed(p.file, p.owner, id, false)));
export const stopReading = officeAction("build", [word], (p, id): Said => told(p, dropFeed(p.file, p.owner, id)));
export const disconnect = officeAction("build", [word], (p, id): Said => told(p, dropSource(p.file, p.owner, id)));
