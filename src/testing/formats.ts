/** What an installation holds, read as its owner reads it: kept beside files of each format, and compared by every later version. */

import { draftOf } from "@/data/definition/draft";
import { published } from "@/data/definition/published";
import { control, portalFile } from "@/data/file/open";
import { staffLog } from "@/data/installation/staff-log";
import { readLog } from "@/data/log/log";
import { Desk } from "@/data/records/desk";
import { ownerViewer } from "@/identity/viewers/viewer";

const NOW = Date.UTC(2026, 11, 1, 12);
const ALL = 100_000;

/** What the installation itself holds, beside its portals: who works here, what they did, the portals and their addresses. Plain JSON. */
export function controlValues(): Record<string, unknown> {
  const owner = ownerViewer({ id: "formats", name: "Formats" }, NOW);
  const rows = (sql: string): unknown[] => control().db.prepare(sql).all();
  return JSON.parse(
    JSON.stringify({
      staff: rows("SELECT id, email, name, role, status, created_at FROM staff ORDER BY id"),
      log: staffLog(owner, ALL),
      portals: rows("SELECT * FROM portals ORDER BY slug"),
      domains: rows("SELECT host, portal, shown_at, main FROM domains ORDER BY host, portal"),
    }),
  ) as Record<string, unknown>;
}

/** By the address of each portal: definition and draft, tables, every record with its fields, and the log in words. Plain JSON. */
export function installationValues(): Record<string, Record<string, unknown>> {
  const owner = ownerViewer({ id: "formats", name: "Formats" }, NOW);
  const slugs = control().db.prepare("SELECT slug FROM portals ORDER BY slug").pluck().all() as string[];
  const valuesOf = (slug: string): Record<string, unknown> => {
    const file = portalFile(slug)!;
    const { definition, policy } = published(file);
    const desk = new Desk(file, policy, owner);
    const recordsOf = (t: (typeof policy.schema.tables)[number]) =>
      desk
        .list(t, { limit: ALL })
        .records.map((r) => [r.id, r.fields] as const)
        .sort(([a], [b]) => (a < b ? -1 : 1));
    return {
      definition,
      draft: draftOf(file, owner).definition,
      tables: policy.schema.tables,
      records: Object.fromEntries(policy.schema.tables.map((t) => [t.id, recordsOf(t)])),
      log: readLog(file, owner, { limit: ALL }).map(({ id, at, who, via, says, record, table, company, detail, changes }) => {
        return { id, at, who, via, says, record, table, company, detail, changes };
      }),
    };
  };
  return JSON.parse(JSON.stringify(Object.fromEntries(slugs.map((slug) => [slug, valuesOf(slug)])))) as ReturnType<
    typeof installationValues
  >;
}
