/** Labels of related records: only of those that the viewer sees, and only where the label itself may be read. */

import { sql } from "drizzle-orm";
import { readable } from "@/core/access/guarded";
import { all } from "@/core/access/predicate";
import { scope } from "@/core/access/scope";
import { holdsFiles, pointsToOne, pointsToSeveral } from "@/core/schema/fields/natures";

import type { Link, SeenRecord, SeenValue } from "@/core/schema/seen";
import type { Field, RelationField, Scalar } from "@/core/schema/types";
import type { Access } from "../../access";
import type { PortalFile } from "../../file/open";
import { asSeen, fileRows } from "../../files/seen";
import { linkColumns, linkTableName, physical } from "../../tables/physical";
import { compile, Parameters, shape } from "./compile";
import type { RawRecord } from "./select";

/** Labels by id, for the ids that the viewer sees. A seen record whose naming field is hidden has an empty label. */
export function seenLabels(d: Access, table: string, ids: readonly string[]): Map<string, string> {
  const { file, policy, viewer } = d;
  const found = new Map<string, string>();
  if (ids.length === 0) return found;
  const label = policy.schema.table(table).labelFieldId;
  const seen = scope(policy, viewer, table).predicate;
  if (seen.kind === "never") return found;
  const named = all([seen, readable(policy, viewer, label)]);
  const values: Scalar[] = [];
  const key = `labels ${table} ${shape(seen, policy.schema, values)} ${shape(named, policy.schema, values)}`;
  values.push(JSON.stringify(ids));
  const rows = file.statements.rows(
    key,
    () => {
      const t = physical(policy.schema, table);
      const params = new Parameters();
      const where = compile(seen, table, policy.schema, params);
      const shown = compile(named, table, policy.schema, params);
      // Written as a join from the list, so that the ids lead and the scope is only checked.
      return sql`SELECT ${t.id}, CASE WHEN ${shown} THEN ${t.column(label)} END FROM json_each(${params.next()}) w CROSS JOIN ${t.table} ON ${t.id} = w.value WHERE ${where}`;
    },
    values,
  );
  for (const [id, text] of rows) found.set(id as string, text === null ? "" : String(text));
  return found;
}

/** Targets of many-relations for a page of records, by record id. */
export function manyTargets(file: PortalFile, field: Field, ids: readonly string[]): Map<string, string[]> {
  const found = new Map<string, string[]>();
  const { from, to } = linkColumns(field);
  const rows = file.statements.rows(`many ${field.id}`, () => {
    const link = sql.identifier(linkTableName(field));
    return sql`SELECT ${sql.identifier(from)}, ${sql.identifier(to)} FROM ${link} WHERE ${sql.identifier(to)} IS NOT NULL AND ${sql.identifier(from)} IN (SELECT value FROM json_each(${sql.placeholder("p0")})) ORDER BY ${sql.identifier(to)}`;
  }, [JSON.stringify(ids)]);
  for (const [record, target] of rows as [string, string][]) found.set(record, [...(found.get(record) ?? []), target]);
  return found;
}

export function withLinks(d: Access, raws: readonly RawRecord[], fields: readonly Field[]): SeenRecord[] {
  const { file } = d;
  const relations = fields.filter((f) => pointsToOne(f));
  const many = fields.filter((f) => pointsToSeveral(f));
  const filed = fields.filter(holdsFiles);
  if (relations.length === 0 && many.length === 0 && filed.length === 0)
    return raws.map((r) => ({ id: r.id, fields: r.values as Record<string, SeenValue> }));
  const targets = new Map(
    many.map((f) => [
      f.id,
      manyTargets(
        file,
        f,
        raws.map((r) => r.id),
      ),
    ]),
  );
  const wanted = new Map<string, Set<string>>();
  const want = (table: string, id: string): unknown => (wanted.get(table) ?? wanted.set(table, new Set()).get(table)!).add(id);
  for (const r of raws) {
    for (const f of relations) if (r.values[f.id]) want(f.options.target, String(r.values[f.id]));
    for (const f of many) for (const id of targets.get(f.id)!.get(r.id) ?? []) want(f.options.target, id);
  }
  const labels = new Map([...wanted].map(([table, ids]) => [table, seenLabels(d, table, [...ids])]));
  const link = (f: RelationField, id: string): Link => {
    const label = labels.get(f.options.target)?.get(id);
    return label === undefined ? { withheld: true } : { id, label };
  };
  const ids = raws.flatMap((r) => filed.flatMap((f) => (r.values[f.id] as readonly string[] | undefined) ?? []));
  const held = fileRows(file, ids);
  return raws.map((r) => {
    const out = r.values as Record<string, SeenValue>;
    for (const f of filed) if (Array.isArray(out[f.id])) out[f.id] = asSeen(d, f, r.id, out[f.id] as readonly string[], held);
    for (const f of relations) if (typeof out[f.id] === "string") out[f.id] = link(f, out[f.id] as string);
    for (const f of many) {
      if (!r.visible.includes(f)) continue;
      // How many are out of sight is not told: they share one mark.
      const all = (targets.get(f.id)!.get(r.id) ?? []).map((id) => link(f, id));
      const seen = all.filter((l) => "id" in l);
      out[f.id] = seen.length < all.length ? [...seen, { withheld: true as const }] : seen;
    }
    return { id: r.id, fields: out };
  });
}
