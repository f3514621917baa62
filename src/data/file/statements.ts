/**
 * Prepared statements by shape. Building a query costs several times what running a small one does, so the built text and
 * the prepared statement are prepared; only parameters change.
 */
import type Database from "better-sqlite3";
import { is, Placeholder, type SQL } from "drizzle-orm";
import { SQLiteSyncDialect } from "drizzle-orm/sqlite-core";
import type { Predicate } from "@/core/access/predicate";

// `is`, not instanceof: Next bundles a module once for each kind of entry, and a statement may be built by either.
const dialect = new SQLiteSyncDialect();

interface Prepared {
  statement: Database.Statement<unknown[]>;
  /** For each `?` of the text, the index of its value, or the literal itself. Null where the values come in the order of the text. */
  order: readonly ({ at: number } | { literal: unknown })[] | null;
}

export class Statements {
  readonly #prepared = new Map<string, Prepared>();
  #following = new WeakMap<object, Map<string, unknown>>();
  constructor(
    private readonly db: Database.Database,
    private readonly limit = 500,
  ) {}

  /** `build` uses placeholders p0, p1, ...; `values` are given in that order. Rows come as arrays, in the order selected. */
  rows(key: string, build: () => SQL, values: readonly unknown[]): unknown[][] {
    const prepared = this.#get(key, build);
    return prepared.statement.all(...bind(prepared, values)) as unknown[][];
  }
  /** Row by row, off a cursor. Until it ends nothing can be written through this handle, nor this statement be begun again. */
  each(key: string, build: () => SQL, values: readonly unknown[]): IterableIterator<unknown[]> {
    const prepared = this.#get(key, build);
    return prepared.statement.iterate(...bind(prepared, values)) as IterableIterator<unknown[]>;
  }
  row(key: string, build: () => SQL, values: readonly unknown[]): unknown[] | undefined {
    const prepared = this.#get(key, build);
    return prepared.statement.get(...bind(prepared, values)) as unknown[] | undefined;
  }
  /** For statements that write: how many rows they changed. */
  run(key: string, build: () => SQL, values: readonly unknown[]): number {
    const prepared = this.#get(key, build, "run");
    return prepared.statement.run(...bind(prepared, values)).changes;
  }
  /** For a statement that inserts one row: its number. */
  insert(key: string, build: () => SQL, values: readonly unknown[]): number {
    const prepared = this.#get(key, build, "run");
    return Number(prepared.statement.run(...bind(prepared, values)).lastInsertRowid);
  }
  /**
   * One number, of a statement that follows from a table and a predicate alone. Predicates are prepared with their policy, so a
   * viewer's next count finds statement and values by the object itself, without putting a key together.
   */
  numberOf(where: Predicate, table: string, prepare: () => { key: string; build: () => SQL; values: readonly unknown[] }): number {
    const bound = this.of(where, table, () => {
      const { key, build, values } = prepare();
      const prepared = this.#get(`# ${key}`, build, "number");
      return { statement: prepared.statement, values: bind(prepared, values) };
    });
    return bound.statement.get(...bound.values) as unknown as number;
  }
  /** A statement that writes, to be prepared by the caller: its first values are settled, the rest come with each run. */
  writer(key: string, build: () => SQL, settled: readonly unknown[]): (values: readonly unknown[]) => number {
    const prepared = this.#get(key, build, "run");
    return (values) => prepared.statement.run(...bind(prepared, settled.concat(values))).changes;
  }
  /** What follows from an object that is prepared with the policy (a scope, a predicate), worked out once for this file. */
  of<T>(owner: object, name: string, make: () => T): T {
    let known = this.#following.get(owner);
    if (!known) this.#following.set(owner, (known = new Map()));
    let found = known.get(name) as T | undefined;
    if (found === undefined) known.set(name, (found = make()));
    return found;
  }
  clear(): void {
    this.#prepared.clear();
    this.#following = new WeakMap();
  }

  #get(key: string, build: () => SQL, answer: "rows" | "number" | "run" = "rows"): Prepared {
    const known = this.#prepared.get(key);
    if (known) return known;
    if (this.#prepared.size >= this.limit) this.#prepared.delete(this.#prepared.keys().next().value!);
    const { sql: text, params } = dialect.sqlToQuery(build());
    const order = params.map((p) => (is(p, Placeholder) ? { at: Number(String(p.name).slice(1)) } : { literal: p }));
    const statement = this.db.prepare<unknown[]>(text);
    if (answer === "number") statement.pluck(true);
    else if (answer === "rows") statement.raw(true);
    const prepared: Prepared = { statement, order: order.every((o, i) => "at" in o && o.at === i) ? null : order };
    this.#prepared.set(key, prepared);
    return prepared;
  }
}

function bind({ order }: Prepared, values: readonly unknown[]): readonly unknown[] {
  if (!order) return values;
  const out = new Array<unknown>(order.length);
  for (let i = 0; i < out.length; i++) {
    const o = order[i]!;
    out[i] = "at" in o ? values[o.at] : o.literal;
  }
  return out;
}
