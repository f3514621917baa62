/** What a webhook says: Standard Webhooks' payload structure (type, timestamp, data), of a record as the webhook's role reads it. */
import type { Viewer } from "@/core/access/who/viewer";
import { recordJson } from "@/core/exchange/present";
import type { Values } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { type Heard, heardOf } from "@/data/records/heard";
import { type Hook, isAboutRecord } from "./hooks";
import type { Send } from "./sends";

interface Stored {
  at: number;
  kind: string;
  tableId: string | null;
  recordId: string | null;
  companyId: string | null;
  before: string | null;
  after: string | null;
}

const values = (text: string | null): Values | null => (text === null ? null : (JSON.parse(text) as Values));

/** Null where there is nothing to tell: the role does not see the record, the filter leaves it out, or the event is gone from the log. */
export function bodyOf(file: PortalFile, hook: Hook, send: Send, viewer: Viewer): string | null {
  const { policy } = published(file);
  if (send.kind === "test") return said("test", send.madeAt, { webhook: hook.name });
  const e = file.db
    .prepare(
      `SELECT e.at, e.act AS kind, e.table_id AS tableId, e.record_id AS recordId, e.company_id AS companyId, v."before", v."after"
       FROM sys_events e LEFT JOIN sys_event_values v ON v.event_id = e.id WHERE e.id = ?`,
    )
    .get(send.eventId) as Stored | undefined;
  if (!e) return null;
  const table = e.tableId === null ? undefined : policy.schema.findTable(e.tableId);
  if (!isAboutRecord(e.kind)) {
    // Events that are the agency's own are only said to have happened: the log has the rest.
    const about = { table: table?.slug ?? null, record: e.recordId, company: e.companyId };
    return said(typeOf(file, e.kind), e.at, about);
  }
  if (!table || e.recordId === null) return null;
  const of = { table, record: e.recordId, company: e.companyId, before: values(e.before), after: values(e.after) };
  const heard: Heard = heardOf({ file, policy, viewer, via: "api" }, of, hook.filter);
  switch (heard.kind) {
    case "nothing":
      return null;
    case "left":
      // Whether it was removed or went out of sight is not told apart: for this role it is the same.
      return said("record-left", e.at, { table: table.slug, id: e.recordId });
    case "seen": {
      const changed = table.fields.filter((f) => heard.changed.includes(f.id)).map((f) => f.slug);
      return said(typeOf(file, e.kind), e.at, { table: table.slug, ...recordJson(table, heard.record), changed });
    }
  }
}

const said = (type: string, at: number, data: object): string => JSON.stringify({ type, timestamp: new Date(at).toISOString(), data });

/** Of an act of the agency's own its name as it stands in addresses: ids mean nothing to a receiver. */
function typeOf(file: PortalFile, kind: string): string {
  if (!kind.startsWith("act:")) return kind;
  const act = published(file).policy.act(kind.slice(4));
  return `act: ${act?.name ?? kind.slice(4)}`;
}
