/** Writes what the values of a field become where it is given another type: one statement for a column, a line each for links. */
import { type Field, isEmpty, type Value } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import type { PortalFile } from "../file/open";
import { hasColumn, isFolded, keyName, linkTableName } from "../records/query/physical";
import { storedValue } from "../records/write/store";

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
  old: string | null,
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
  const table = `"${before.tableId}"`;
  const link = hasColumn(field) ? null : file.db.prepare(`INSERT OR IGNORE INTO "${linkTableName(field)}" VALUES (?, ?)`);
  const put = link
    ? null
    : file.db.prepare(`UPDATE ${table} SET "${field.id}" = ?${isFolded(field) ? `, "${keyName(field.id)}" = ?` : ""} WHERE id = ?`);
  for (const v of values) {
    const next = lasting(v.next);
    if (link) for (const target of (next as readonly string[] | null) ?? []) link.run(v.id, target);
    const stored = link ? null : storedValue(next);
    if (put && stored !== null) put.run(...(isFolded(field) ? [stored, fold(String(stored)), v.id] : [stored, v.id]));
  }
}

/** What each value that stands there is stored as from now on. */
type Become = Map<string | number | null, string | number | null>;

/** One statement for all rows, which asks what each different value becomes. */
function writeAtOnce(file: PortalFile, field: Field, become: Become, old: string): void {
  const { db } = file;
  const table = `"${field.tableId}"`;
  db.function(BECOMES, { deterministic: true }, (raw: unknown) => become.get(raw as string) ?? null);
  db.function(KEYED, { deterministic: true }, (raw: unknown) => {
    const v = become.get(raw as string) ?? null;
    return v === null ? null : fold(String(v));
  });
  try {
    if (!hasColumn(field))
      db.exec(`INSERT OR IGNORE INTO "${linkTableName(field)}" SELECT t.id, j.value FROM ${table} t, json_each(${BECOMES}(t."${old}")) j
        WHERE t."${old}" IS NOT NULL`);
    else {
      const cast = castThatDoes(become, old);
      const keyed = cast && inAscii(become) ? `lower(${cast})` : `${KEYED}("${old}")`;
      const key = isFolded(field) ? `, "${keyName(field.id)}" = ${keyed}` : "";
      db.exec(`UPDATE ${table} SET "${field.id}" = ${cast ?? `${BECOMES}("${old}")`}${key} WHERE "${old}" IS NOT NULL`);
    }
  } finally {
    // What they hold is let go of; nothing else calls them.
    for (const name of [BECOMES, KEYED]) db.function(name, { deterministic: true }, () => null);
  }
}
const [BECOMES, KEYED] = ["elkhorn_becomes", "elkhorn_keyed"];

/** The cast by which SQLite makes of each value just what it becomes, which is many times quicker than asking; null where none does. */
function castThatDoes(become: Become, old: string): string | null {
  let [same, toText, toNumber] = [true, true, true];
  for (const [raw, v] of become) {
    if (raw === null) continue;
    same &&= raw === v;
    toText &&= Number.isSafeInteger(raw) && v === String(raw);
    toNumber &&= Number.isSafeInteger(v) && raw === String(v);
  }
  return same ? `"${old}"` : toText ? `CAST("${old}" AS TEXT)` : toNumber ? `CAST("${old}" AS INTEGER)` : null;
}

/** There SQLite folds as we do. */
const ASCII = /^[\0-\x7f]*$/;
function inAscii(become: Become): boolean {
  for (const v of become.values()) if (v !== null && !ASCII.test(String(v))) return false;
  return true;
}
