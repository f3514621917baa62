/** Writes what the values of a field become where it is given another type: one statement for a column, a line each for links. */

import { type Field, isEmpty, type Value } from "@/core/schema/types";
import { fold, isAscii } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import type { PortalFile } from "../file/open";
import type { Old } from "../tables/exchange-column";
import { hasColumn, isFolded, keyName, linkTableName } from "../tables/physical";
import { storedValue } from "../tables/store";
import type { Plain } from "./retype-plain";

/** What stands in the column as it is stored, with how many records it stands in; of a relation to several, record by record. */
export interface Standing {
  readonly raw: string | number | null;
  /** Set where links are read record by record. */
  readonly id: string | null;
  readonly value: Value;
  readonly records: number;
}
export interface Turned extends Standing {
  /** What it becomes, and the words that did not convert. */
  readonly next: Value;
  readonly kept: string | null;
}

/** `old` is the column that the values stand in now; null where they were links. */
export function writeTurned(
  file: PortalFile,
  before: Field,
  field: Field,
  values: readonly Turned[],
  made: ReadonlyMap<string, string>,
  old: Old | null,
): void {
  const byWords = new Map((field.options.choices ?? []).map((c) => [`new ${c.name}`, c.id]));
  const lasting = (v: Value): Value => {
    const at = (x: string): string => byWords.get(x) ?? made.get(x) ?? x;
    if (isEmpty(v) || (byWords.size === 0 && made.size === 0)) return v;
    return Array.isArray(v) ? v.map((x) => at(String(x))) : typeof v === "string" ? at(v) : v;
  };
  if (old) {
    const column = hasColumn(field);
    const become: Become = new Map();
    for (const v of values) become.set(v.raw, column ? storedValue(lasting(v.next)) : JSON.stringify(lasting(v.next) ?? []));
    writeAtOnce(file, field, become, old);
    return;
  }
  const table = sqlName(before.tableId);
  const link = hasColumn(field) ? null : file.db.prepare(`INSERT OR IGNORE INTO ${sqlName(linkTableName(field))} VALUES (?, ?)`);
  const put = link
    ? null
    : file.db.prepare(
        `UPDATE ${table} SET ${sqlName(field.id)} = ?${isFolded(field) ? `, ${sqlName(keyName(field.id))} = ?` : ""} WHERE id = ?`,
      );
  for (const v of values) {
    const next = lasting(v.next);
    if (link) for (const target of (next as readonly string[] | null) ?? []) link.run(v.id, target);
    const stored = link ? null : storedValue(next);
    if (put && stored !== null) put.run(...(isFolded(field) ? [stored, fold(String(stored)), v.id] : [stored, v.id]));
  }
}

/** The same for a column whose values SQLite casts. */
export function writeCast(file: PortalFile, field: Field, { cast }: Plain, old: Old): void {
  const become = cast(sqlName(old.column));
  // Digits are their own key.
  update(file, field, old, become, become);
}

/** The old column is empty then: rows that hold both would not fit where they stand. */
function update({ db }: PortalFile, field: Field, { column, key }: Old, value: string, keyed: string): void {
  const own = isFolded(field) ? `, ${sqlName(keyName(field.id))} = ${keyed}` : "";
  const old = key === null ? "" : `, ${sqlName(key)} = NULL`;
  db.exec(
    `UPDATE ${sqlName(field.tableId)} SET ${sqlName(field.id)} = ${value}${own}, ${sqlName(column)} = NULL${old} WHERE ${sqlName(column)} IS NOT NULL`,
  );
}

/** What each value that stands there is stored as from now on. */
type Become = Map<string | number | null, string | number | null>;

/** One statement for all rows, which asks what each different value becomes. */
function writeAtOnce(file: PortalFile, field: Field, become: Become, old: Old): void {
  const { db } = file;
  const table = sqlName(field.tableId);
  db.function(BECOMES, { deterministic: true }, (raw: unknown) => become.get(raw as string) ?? null);
  db.function(KEYED, { deterministic: true }, (raw: unknown) => {
    const v = become.get(raw as string) ?? null;
    return v === null ? null : fold(String(v));
  });
  try {
    if (!hasColumn(field))
      db.exec(`INSERT OR IGNORE INTO ${sqlName(linkTableName(field))} SELECT t.id, j.value FROM ${table} t, json_each(${BECOMES}(t.${sqlName(old.column)})) j
        WHERE t.${sqlName(old.column)} IS NOT NULL`);
    else {
      const from = sqlName(old.column);
      const same = staysAsItIs(become);
      update(file, field, old, same ? from : `${BECOMES}(${from})`, same && inAscii(become) ? `lower(${from})` : `${KEYED}(${from})`);
    }
  } finally {
    // What they hold is let go of; nothing else calls them.
    for (const name of [BECOMES, KEYED]) db.function(name, { deterministic: true }, () => null);
  }
}
const [BECOMES, KEYED] = ["elkhorn_becomes", "elkhorn_keyed"];

function staysAsItIs(become: Become): boolean {
  for (const [raw, v] of become) if (raw !== null && raw !== v) return false;
  return true;
}

function inAscii(become: Become): boolean {
  for (const v of become.values()) if (v !== null && !isAscii(String(v))) return false;
  return true;
}
