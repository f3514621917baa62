/** How webhooks reach their receivers, and who hears that one was paused. */
import { published } from "@/data/definition/published";
import { enqueue } from "@/data/jobs/queue";
import { officeAddress } from "@/identity/requests/addresses";
import { guardedFetch } from "@/services/outside/guarded";
import { ownersOf } from "@/staff/staff";
import type { Post, TellStaff } from "@/webhooks/tell";

const PATIENCE_MS = 15_000;
/** No more of an answer is read: a receiver may answer megabytes. */
const MOST_BYTES = 8_000;

const post: Post = (url, body, headers) =>
  guardedFetch(url, { method: "POST", body, headers }, { bytes: MOST_BYTES, cut: true, waits: PATIENCE_MS });

const tellStaff: TellStaff = (file, hook, why) => {
  const { portal } = published(file).definition;
  const at = `${officeAddress()}/portals/${file.slug}/connections/webhooks/${hook.id}`;
  for (const o of ownersOf()) {
    const text = `Hello ${o.name.split(" ")[0]},\n\nthe webhook “${hook.name}” of ${portal.name} has been paused: ${why}.\n\nWhat happens meanwhile is kept for three days. Look at it and resume it here:\n${at}\n`;
    enqueue(file, "mail", { to: o.email, subject: `${portal.name}: the webhook “${hook.name}” has been paused`, text }, Date.now());
  }
};

export const TELLING = { post, tellStaff, now: Date.now };
