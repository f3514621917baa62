/** Telling: what is due goes out, several receivers at a time, each record's events in their order; what is not taken is tried again. */
import { Webhook } from "standardwebhooks";
import type { PortalFile } from "@/data/file/open";
import { bodyOf } from "./body";
import { filterBreaks, type Hook, hookById, secretsOf, stopHook, viewerOfHook } from "./hooks";
import { dueSends, endSend, hooksDue, laterSend, nextSend, noteTry, type Send } from "./sends";
import { nextTry, TOLD_FOR } from "./waits";
import { wake } from "./wake";

/** How a body is posted: by the one client that reaches nothing inside. Rejects where no answer comes. */
export type Post = (url: string, body: string, headers: Record<string, string>) => Promise<Response>;
/** What a pause tells those who work here. */
export type TellStaff = (file: PortalFile, hook: Hook, why: string) => void;

interface Telling {
  readonly post: Post;
  readonly tellStaff: TellStaff;
  readonly now: () => number;
}

/** Tellings of one webhook at the same time. */
const AT_ONCE = 8;
/** A job ends after this long, in milliseconds: what is left is the next one's, and a process that is to stop does. */
const LONGEST = 20_000;
const LOOK_AGAIN = 200;
/** Characters of an answer that are kept. */
const KEPT = 2_000;

/** All that is due now, each webhook by itself: one whose receiver is slow holds up no other. What comes due later is a job of its own. */
export async function tellDue(file: PortalFile, t: Telling): Promise<number> {
  const until = t.now() + LONGEST;
  const busy = new Map<string, Promise<number>>();
  let done = 0;
  for (;;) {
    if (t.now() < until)
      for (const hook of hooksDue(file, t.now())) {
        if (busy.has(hook)) continue;
        const work = tellHook(file, hook, until, t).finally(() => busy.delete(hook));
        busy.set(hook, work);
        work.then((n) => void (done += n)).catch(() => {});
      }
    if (busy.size === 0) break;
    // Looked at again while a slow one is waited for: others may have something new.
    await Promise.race([...busy.values(), new Promise((r) => setTimeout(r, LOOK_AGAIN))]);
  }
  const next = nextSend(file);
  if (next !== null) wake(file, next);
  return done;
}

async function tellHook(file: PortalFile, hook: string, until: number, t: Telling): Promise<number> {
  let done = 0;
  while (t.now() < until) {
    const due = dueSends(file, hook, t.now(), AT_ONCE);
    if (due.length === 0) break;
    await Promise.all(due.map((s) => tell(file, s, t)));
    done += due.length;
  }
  return done;
}

/** Makes one try. The body is settled at the first try and signed anew at each. */
export async function tell(file: PortalFile, send: Send, t: Telling): Promise<void> {
  const hook = hookById(file, send.webhookId);
  if (!hook) return;
  const viewer = viewerOfHook(file, hook, t.now());
  if (!viewer) return stop(file, hook, "its role or company is gone", t);
  if (filterBreaks(file, hook)) return stop(file, hook, "its filter names a field or table that is gone", t);
  const body = send.body ?? bodyOf(file, hook, send, viewer);
  if (body === null) return endSend(file, send.id, { state: "passed", status: null, answer: null }, t.now());
  noteTry(file, send.id, body);
  const answer = await posted(hook.url, body, signed(file, hook, send.id, body, t.now()), t.post);
  const now = t.now();
  if (answer.status !== null && answer.status >= 200 && answer.status < 300) {
    endSend(file, send.id, { state: "taken", status: answer.status, answer: answer.text }, now);
    if (hook.failingSince !== null) file.db.prepare("UPDATE sys_webhooks SET failing_since = NULL WHERE id = ?").run(hook.id);
    return;
  }
  // A test is tried once: whoever asked for it looks at the answer.
  const again = send.kind === "test" ? null : nextTry(send.madeAt, send.tries + 1, now, answer.wait);
  if (again === null) endSend(file, send.id, { state: "failed", status: answer.status, answer: answer.text }, now);
  else laterSend(file, send.id, again, answer.status, answer.text);
  if (send.kind === "test") return;
  if (hook.failingSince === null) file.db.prepare("UPDATE sys_webhooks SET failing_since = ? WHERE id = ?").run(send.madeAt, hook.id);
  // Standard Webhooks: "410 Gone" asks to be told no more.
  if (answer.status === 410) stop(file, hook, "the receiver says that nothing is there any more (410)", t);
  else if (now - (hook.failingSince ?? send.madeAt) >= TOLD_FOR) stop(file, hook, "nothing has been taken for three days", t);
}

function stop(file: PortalFile, hook: Hook, why: string, t: Telling): void {
  if (stopHook(file, hook.id, why, t.now())) t.tellStaff(file, hook, why);
}

/** Standard Webhooks 1.0.0: id, timestamp and body are signed, once with each secret that is good. */
function signed(file: PortalFile, hook: Hook, id: string, body: string, now: number): Record<string, string> {
  const at = new Date(now);
  return {
    "content-type": "application/json",
    "user-agent": "Elkhorn-Webhooks/1",
    "webhook-id": id,
    "webhook-timestamp": String(Math.floor(now / 1_000)),
    "webhook-signature": secretsOf(file, hook.id, now)
      .map((s) => new Webhook(s).sign(id, at, body))
      .join(" "),
  };
}

interface Answered {
  readonly status: number | null;
  readonly text: string;
  /** Milliseconds that the receiver asks for, or 0. */
  readonly wait: number;
}

async function posted(url: string, body: string, headers: Record<string, string>, post: Post): Promise<Answered> {
  try {
    const answer = await post(url, body, headers);
    const after = Number(answer.headers.get("retry-after"));
    const wait = Number.isFinite(after) && after > 0 ? Math.min(after, 86_400) * 1_000 : 0;
    return { status: answer.status, text: (await answer.text()).slice(0, KEPT), wait };
  } catch (e) {
    return { status: null, text: whyNone(e as Error), wait: 0 };
  }
}

const whyNone = (e: Error): string =>
  e.name === "LeadsInside"
    ? "The address leads into this installation's own network, so nothing was sent."
    : e.name === "TimeoutError"
      ? "No answer came in time."
      : `It could not be reached (${(e as { code?: string }).code ?? "no connection"}).`;
