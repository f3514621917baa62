/** Records that become nobody stay in a table of the same name and shape. Only the agency sees it until a grant opens it. */

import { eq } from "drizzle-orm";
import { holdsFiles, isAutomatic } from "@/core/schema/fields/natures";
import { type Choice, type Field, targetOf, type Value } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import type { Removed } from "../records/write/remove";
import { addTable, type NewField } from "../tables/change";
import { hasColumn, linkTableName } from "../tables/physical";
import { fieldOf } from "../tables/read";
import { insertText, insertValues } from "../tables/store";
import type { Making } from "./ask";

interface Binned {
  readonly id: string;
  readonly body: Removed;
}

/** The table's id; null where all of it moved and nothing of it is in the bin. */
export function keepAsRecords(
  file: PortalFile,
  m: Making,
  links: ReadonlyMap<string, readonly { record: string; to: string }[]>,
  now: ReadonlyMap<string, string>,
): string | null {
  const staying = m.fates.flatMap((f) => (f.kind === "stays" ? [f.row] : []));
  const binned = file.orm.select().from(t.removed).where(eq(t.removed.tableId, m.table.id)).all();
  if (staying.length === 0 && binned.length === 0) return null;
  const own = m.fields.filter((f) => !f.options.kept);
  const named = [...own.filter((f) => f.id === m.table.labelFieldId), ...own.filter((f) => f.id !== m.table.labelFieldId)];
  const rest = addTable(file, {
    slug: m.table.slug,
    name: m.table.name,
    singular: m.table.singular,
    fields: named.map((f) => likeOf(f, m)),
  });
  const made = file.orm.select().from(t.fields).where(eq(t.fields.tableId, rest)).orderBy(t.fields.position).all().map(fieldOf);
  const byOld = new Map(named.map((f, i) => [f.id, made[i]!]));
  const moved = (values: Readonly<Record<string, Value>>): Record<string, Value> =>
    Object.fromEntries(
      named.flatMap((f): [string, Value][] => {
        const [next, v] = [byOld.get(f.id)!, values[f.id]];
        if (v === undefined) return [];
        if (m.turned.has(f.id)) return [[next.id, typeof v === "string" ? (now.get(v) ?? null) : v]];
        return [[next.id, inChoices(f, next, v)]];
      }),
    );
  const table = { ...m.table, id: rest, fields: made };
  const put = file.db.prepare(insertText(table));
  for (const row of staying) put.run(...insertValues(table, row.id, moved(row.values), row.madeBy ?? "", row.madeAt ?? ""));
  const stays = new Set(staying.map((r) => r.id));
  for (const f of named) {
    const next = byOld.get(f.id)!;
    if (!hasColumn(next)) {
      const link = file.db.prepare(`INSERT OR IGNORE INTO ${sqlName(linkTableName(next))} (record_id, target_id) VALUES (?, ?)`);
      for (const l of links.get(f.id) ?? []) {
        const to = m.turned.has(f.id) ? now.get(l.to) : l.to;
        if (to && stays.has(l.record)) link.run(l.record, to);
      }
    }
    if (!holdsFiles(f)) continue;
    const kept = file.db.prepare("UPDATE sys_files SET field_id = ? WHERE field_id = ? AND record_id = ?");
    for (const id of [...stays, ...binned.map((b) => b.recordId)]) kept.run(next.id, f.id, id);
  }
  for (const b of binned.map((r): Binned => ({ id: r.recordId, body: JSON.parse(r.body) as Removed }))) {
    const body: Removed = { ...b.body, row: { ...b.body.row, table: rest, values: moved(b.body.row.values) }, pointed: [] };
    file.orm
      .update(t.removed)
      .set({ tableId: rest, body: JSON.stringify(body) })
      .where(eq(t.removed.recordId, b.id))
      .run();
  }
  return rest;
}

/** Numbers in order and readable addresses stand as text: those that are given out go on among the people. */
function likeOf(f: Field, m: Making): NewField {
  const { choices, default: _, madeFrom: __, ...options } = f.options as Field["options"] & { madeFrom?: string };
  const type = isAutomatic(f) ? "text" : f.type;
  return {
    slug: f.slug,
    name: f.name,
    type,
    options: {
      ...options,
      ...(targetOf(f) === m.table.id ? { target: m.target.id } : {}),
      ...(choices ? { choices: choices.map(({ id: _id, ...c }: Choice) => c) } : {}),
    } as never,
  };
}

function inChoices(before: Field, after: Field, v: Value): Value {
  if (!before.options.choices) return v;
  const id = (x: unknown): string => after.options.choices![before.options.choices!.findIndex((c) => c.id === x)]?.id ?? String(x);
  return Array.isArray(v) ? v.map(id) : v === null ? null : id(v);
}
