/** What goes back to another system, as the owner chooses it; and what they decide where both sides changed the same. */
import type { Owner } from "@/core/access/who/viewer";
import { err, ok, type Result } from "@/core/result";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { type Feed, feedById, feedsOf, isOwn, type Rule, type Way } from "../feeds";
import { adapterOf, note, sourceById, sourcesOf } from "../sources";
import { noteTablesOut, type Send, sendBy, wakeSending } from "./queue";
import { takeTheirs } from "./send";
import { canGoOut, type Outgoing } from "./texts";

export interface OutSettings {
  readonly ways: Readonly<Record<string, Way>>;
  readonly makes: boolean;
  readonly rule: Rule;
}

/** What could go there, or why nothing can, in a sentence. */
export function outgoing(file: PortalFile, feed: Feed): Result<readonly Outgoing[], string> {
  const source = sourceById(file, feed.sourceId);
  const table = feed.tableId ? published(file).policy.schema.findTable(feed.tableId) : undefined;
  if (!source || !table || !feed.plan) return err("Bring it in once first.");
  const adapter = adapterOf(source.kind);
  if (!adapter.write) return err("This kind of system is only read.");
  if (feed.ownKey === null) return err("It has no key of its own that tells its rows apart, so nothing can go back.");
  if (!isOwn(feed)) return err(`Choose “${feed.ownKey}” as the column by which its records are known: it is the key there.`);
  return ok(canGoOut(feed, table, adapter.fixed));
}

/** Whether records that are made here can be made there. A person or a company begins with more than a row. */
export const canMake = (file: PortalFile, feed: Feed): boolean =>
  feed.tableId !== null && published(file).policy.schema.findTable(feed.tableId)?.kind === "ordinary";

/** Sets which fields of a feed go out, and who leads where both sides changed. A sentence where that is not possible. */
export function setOut(file: PortalFile, owner: Owner, id: string, s: OutSettings): Result<null, string> {
  return transact(file, () => {
    const feed = feedById(file, id);
    const can = feed ? outgoing(file, feed) : err("It is gone.");
    if (!feed || !can.ok) return err(can.ok ? "It is gone." : can.error);
    if (Object.keys(s.ways).some((f) => !can.value.some((o) => o.field.id === f)))
      return err("One of these fields is gone. Load the page again.");
    if (s.makes && !canMake(file, feed)) return err("New companies and people are not made there: only their changes go back.");
    if (s.makes && Object.keys(s.ways).length === 0) return err("Choose the fields that go there first.");
    file.db
      .prepare("UPDATE sys_source_feeds SET ways = ?, makes = ?, rule = ? WHERE id = ?")
      .run(JSON.stringify(s.ways), s.makes ? 1 : 0, s.rule, id);
    noteTablesOut(file);
    note(file, owner, "source-changed", feed.name);
    return ok(null);
  });
}

/** Decides which value stays where both sides changed the same. */
export function settle(file: PortalFile, owner: Owner, n: number, stays: "ours" | "theirs"): boolean {
  return transact(file, () => {
    const send = sendBy(file, n);
    const feed = send && feedById(file, send.feedId);
    if (send?.state !== "asked" || !feed) return false;
    const group = openOf(file, send);
    if (stays === "theirs") takeTheirs(file, group, { ours: send.ours ?? {}, theirs: send.theirs ?? {}, outcome: "theirs" }, owner.now);
    else {
      const put = file.db.prepare(
        "UPDATE sys_source_sends SET state = 'waiting', outcome = 'ours', next_at = ? WHERE n = ? AND state = 'asked'",
      );
      for (const s of group) put.run(owner.now, s.n);
    }
    wakeSending(file, owner.now);
    note(file, owner, "source-changed", feed.name);
    return true;
  });
}

/** All of the same record that are asked about. */
const openOf = (file: PortalFile, send: Send): Send[] =>
  (
    file.db
      .prepare("SELECT n FROM sys_source_sends WHERE feed_id = ? AND record_id = ? AND state = 'asked' ORDER BY n")
      .pluck()
      .all(send.feedId, send.recordId) as number[]
  ).flatMap((n) => sendBy(file, n) ?? []);

/** Tries at once what waits. */
export function sendNow(file: PortalFile, id: string, now: number): void {
  file.db.prepare("UPDATE sys_source_sends SET next_at = ? WHERE feed_id = ? AND state = 'waiting'").run(now, id);
  wakeSending(file, now);
}

/** Fields of a table that go to other systems, each with the names of those. */
export function fieldsOut(file: PortalFile, owner: Owner, table: string): ReadonlyMap<string, readonly string[]> {
  const out = new Map<string, string[]>();
  for (const s of sourcesOf(file, owner))
    for (const f of feedsOf(file, s.id))
      if (f.tableId === table) for (const field of Object.keys(f.ways)) out.set(field, [...(out.get(field) ?? []), s.name]);
  return out;
}
