/**
 * Choices get ids, and numbers become integers scaled by their field's decimals: rows, rules and removed records are rewritten to
 * hold them. See docs/decisions/0014.
 */
import type Database from "better-sqlite3";

type Convert = (v: unknown) => unknown;
interface StoredField {
  id: string;
  table_id: string;
  type: string;
  options: string;
  system: number;
}

const MOST_DECIMALS = 6;
const json = (v: unknown): string => JSON.stringify(v);

export function choicesAndNumbers(db: Database.Database): void {
  const fields = db.prepare("SELECT id, table_id, type, options, system FROM sys_fields").all() as StoredField[];
  const converts = new Map<string, Convert>();
  for (const f of fields) {
    if (f.type === "choice" || f.type === "choices") converts.set(f.id, choiceIds(db, f));
    if (f.type === "number") converts.set(f.id, scaled(db, f));
  }
  rewriteRules(db, converts);
  rewriteRemoved(db, converts);
}

function choiceIds(db: Database.Database, f: StoredField): Convert {
  const options = JSON.parse(f.options) as { choices?: string[]; default?: { kind: string; value?: unknown } };
  const counter = db.prepare("SELECT value FROM sys_meta WHERE key = 'choices'").pluck();
  let n = Number(counter.get() ?? 0);
  // The system's own states are known by their words in the program.
  const choices = (options.choices ?? []).map((name) => ({ id: f.system ? name : `c_${++n}`, name }));
  db.prepare("INSERT INTO sys_meta VALUES ('choices', ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value").run(String(n));
  const ids = new Map<unknown, string>(choices.map((c) => [c.name, c.id]));
  const one: Convert = (v) => ids.get(v) ?? v;
  const convert: Convert = (v) => (Array.isArray(v) ? v.map(one) : one(v));
  if (options.default?.kind === "literal") options.default.value = convert(options.default.value);
  db.prepare("UPDATE sys_fields SET options = ? WHERE id = ?").run(json({ ...options, choices }), f.id);
  const [table, column] = [`"${f.table_id}"`, `"${f.id}"`];
  if (f.type === "choice") {
    const update = db.prepare(`UPDATE ${table} SET ${column} = ? WHERE ${column} = ?`);
    for (const c of choices) if (c.id !== c.name) update.run(c.id, c.name);
  } else {
    const update = db.prepare(`UPDATE ${table} SET ${column} = ? WHERE id = ?`);
    const rows = db.prepare(`SELECT id, ${column} AS v FROM ${table} WHERE ${column} IS NOT NULL`).all() as { id: string; v: string }[];
    for (const r of rows) update.run(json(convert(JSON.parse(r.v))), r.id);
  }
  return convert;
}

/** As many decimals as what is stored needs; six at the most, which is what was ever shown. */
function scaled(db: Database.Database, f: StoredField): Convert {
  const [table, column] = [`"${f.table_id}"`, `"${f.id}"`];
  const values = db.prepare(`SELECT DISTINCT ${column} FROM ${table} WHERE ${column} IS NOT NULL`).pluck().all() as number[];
  const safe = (d: number): boolean => values.every((v) => Number.isSafeInteger(Math.round(v * 10 ** d)));
  let decimals = 0;
  while (decimals < MOST_DECIMALS && safe(decimals + 1) && values.some((v) => Number(v.toFixed(decimals)) !== v)) decimals++;
  const one: Convert = (v) => (typeof v === "number" ? Math.round(v * 10 ** decimals) : v);
  const convert: Convert = (v) => (Array.isArray(v) ? v.map(one) : one(v));
  const options = JSON.parse(f.options) as { default?: { kind: string; value?: unknown } };
  if (options.default?.kind === "literal") options.default.value = convert(options.default.value);
  db.prepare("UPDATE sys_fields SET options = ? WHERE id = ?").run(json({ ...options, decimals }), f.id);
  // A column of STRICT SQLite keeps its type: the new one takes its place and its indexes.
  const indexes = db
    .prepare("SELECT name, sql FROM sqlite_master WHERE type = 'index' AND tbl_name = ? AND instr(sql, ?) > 0")
    .all(f.table_id, column) as { name: string; sql: string }[];
  for (const i of indexes) db.exec(`DROP INDEX "${i.name}"`);
  db.exec(`ALTER TABLE ${table} ADD COLUMN "scaled" INTEGER`);
  db.exec(`UPDATE ${table} SET "scaled" = CAST(round(${column} * ${10 ** decimals}) AS INTEGER) WHERE ${column} IS NOT NULL`);
  db.exec(`ALTER TABLE ${table} DROP COLUMN ${column}; ALTER TABLE ${table} RENAME COLUMN "scaled" TO ${column}`);
  for (const i of indexes) db.exec(i.sql);
  return convert;
}

/** Literals of every filter, in every version and in the draft with its steps. */
function rewriteRules(db: Database.Database, converts: ReadonlyMap<string, Convert>): void {
  for (const [table, key] of [
    ["sys_definitions", "version"],
    ["sys_draft", "id"],
    ["sys_draft_steps", "n"],
  ] as const) {
    const update = db.prepare(`UPDATE ${table} SET body = ? WHERE ${key} = ?`);
    for (const row of db.prepare(`SELECT ${key} AS k, body FROM ${table}`).all() as { k: number; body: string }[])
      update.run(json(rewritten(JSON.parse(row.body), converts)), row.k);
  }
}

interface TestLike {
  kind: "test";
  path: string[];
  operands: { kind: string; value?: unknown }[];
}
const isTest = (v: object): v is TestLike => "kind" in v && v.kind === "test" && "path" in v && "operands" in v;

function rewritten(v: unknown, converts: ReadonlyMap<string, Convert>): unknown {
  if (Array.isArray(v)) return v.map((x) => rewritten(x, converts));
  if (typeof v !== "object" || v === null) return v;
  if (isTest(v)) {
    const convert = converts.get(v.path[v.path.length - 1] ?? "");
    if (!convert) return v;
    return { ...v, operands: v.operands.map((o) => (o.kind === "literal" ? { ...o, value: convert(o.value) } : o)) };
  }
  return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, rewritten(x, converts)]));
}

function rewriteRemoved(db: Database.Database, converts: ReadonlyMap<string, Convert>): void {
  const update = db.prepare("UPDATE sys_removed SET body = ? WHERE record_id = ?");
  for (const r of db.prepare("SELECT record_id AS id, body FROM sys_removed").all() as { id: string; body: string }[]) {
    const body = JSON.parse(r.body) as { row: { values: Record<string, unknown> } };
    for (const [field, convert] of converts) if (field in body.row.values) body.row.values[field] = convert(body.row.values[field]);
    update.run(json(body), r.id);
  }
}
