/** A record that was changed here while a reading was on its way into it: what the person wrote stands again, and goes there. */
import type { Owner } from "@/core/access/who/viewer";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { Desk } from "@/data/records/desk";
import type { Feed } from "../feeds";
import { openSendsAfter } from "./queue";

/** `since` is the last number of a change when the reading began: what was waiting then was left out of it. */
export function putBack(file: PortalFile, owner: Owner, feed: Feed, since: number, came: (record: string) => boolean): void {
  const sends = openSendsAfter(file, feed.id, since);
  if (sends.length === 0) return;
  const { policy } = published(file);
  const table = policy.schema.findTable(feed.tableId!);
  if (!table) return;
  const desk = new Desk(file, policy, owner, "source");
  for (const s of sends) if (came(s.recordId)) desk.change(table, s.recordId, s.now, null);
}
