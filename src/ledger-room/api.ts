/**
 * The Ledger Room's HTTP API, version 1: lists in the order of the last change, by pages; one record, made, changed (If-Match), removed. Documented
 * at /openapi.json.
 */
import type { IncomingHttpHeaders } from "node:http";
import { z } from "zod";
import {
  countAfter,
  type Faults,
  type Item,
  isKey,
  isKind,
  itemBy,
  itemsAfter,
  KINDS,
  type Kind,
  type Ledger,
  lastSeq,
  madeBefore,
  noteMade,
  putItem,
  removeItem,
  type Where,
} from "./store";

export interface Asked {
  readonly method: string;
  readonly url: URL;
  readonly headers: IncomingHttpHeaders;
  readonly body: string;
}
export interface Said {
  readonly status: number;
  readonly headers?: Readonly<Record<string, string>>;
  readonly said: object | null;
}

const MOST = 500;

const problem = (status: number, detail: string, headers?: Record<string, string>): Said => ({
  status,
  said: { type: "about:blank", status, detail },
  ...(headers ? { headers } : {}),
});

/** A record as it is given: all values are text, dates as RFC 3339 has them, numbers with a full stop. */
const shown = (i: Item, faults: Faults): object =>
  i.removed
    ? { id: i.id, removed: true }
    : {
        id: i.id,
        ...(faults.renames ? Object.fromEntries(Object.entries(i.values).map(([c, v], at) => [at === 0 ? `${c}_2` : c, v])) : i.values),
        version: i.version,
        changed_at: new Date(i.changedAt).toISOString(),
      };
const tag = (i: Item): string => `"${i.version}"`;
const one = (i: Item, status: number, faults: Faults): Said => ({ status, headers: { etag: tag(i) }, said: shown(i, faults) });

const asked = new WeakMap<Ledger, number>();
/** The second, the fourth and so on. */
function isTooSoon(db: Ledger): boolean {
  const n = (asked.get(db) ?? 0) + 1;
  asked.set(db, n);
  return n % 2 === 0;
}

export function answerApi(db: Ledger, a: Asked, faults: Faults, now: number): Said {
  const key = /^Bearer (\S+)$/.exec(a.headers.authorization ?? "")?.[1];
  if (!key || !isKey(db, key)) return problem(401, "This key is none of the Ledger Room's.");
  if (faults.status === 429) return problem(429, "Too many requests.", { "retry-after": "2" });
  if (faults.rations && isTooSoon(db)) return problem(429, "One request at a time.", { "retry-after": "1" });
  if (faults.status) return problem(faults.status, "The Ledger Room is being mended.");
  const [, kind = "", id] = /^\/v1\/([a-z]+)(?:\/([A-Za-z0-9-]{1,40}))?$/.exec(a.url.pathname) ?? [];
  if (a.method === "GET" && a.url.pathname === "/v1") return { status: 200, said: { kinds: Object.keys(KINDS) } };
  if (!isKind(kind)) return problem(404, "There is nothing at this address.");
  if (id === undefined) {
    if (a.method === "GET") return list(db, kind, a.url.searchParams, faults);
    if (a.method === "POST") return make(db, kind, a, faults, now);
    return problem(405, "A list is read, or added to.");
  }
  const item = itemBy(db, kind, id);
  if (!item || item.removed) return problem(item ? 410 : 404, "There is no such record.");
  if (a.method === "GET") return one(item, 200, faults);
  const match = a.headers["if-match"];
  if (match !== undefined && match !== tag(item)) return { ...one(item, 412, faults) };
  if (a.method === "DELETE") {
    removeItem(db, kind, id, now);
    return { status: 204, said: null };
  }
  if (a.method !== "PATCH") return problem(405, "A record is read, changed or removed.");
  const values = valuesIn(kind, a.body);
  return typeof values === "string" ? problem(422, values) : one(putItem(db, kind, id, values, now), 200, faults);
}

const counts = new WeakMap<Ledger, { readonly of: string; readonly n: number }>();
/** How many a whole list has. Counted once for all pages of it: of a million records each page would else wait for a count of them all. */
function totalOf(db: Ledger, kind: Kind, since: number, removed: boolean, where: Where | null): number {
  const of = JSON.stringify([kind, since, removed, where, lastSeq(db), db.pragma("data_version", { simple: true })]);
  const before = counts.get(db);
  if (before?.of === of) return before.n;
  const n = countAfter(db, kind, since, removed, where);
  counts.set(db, { of, n });
  return n;
}

function list(db: Ledger, kind: Kind, q: URLSearchParams, faults: Faults): Said {
  const [since, after, limit] = [q.get("since"), q.get("after"), Number(q.get("limit") ?? 200)];
  const from = Number(after ?? since ?? 0);
  if (!Number.isSafeInteger(from) || from < 0 || !Number.isInteger(limit) || limit < 1 || limit > MOST)
    return problem(422, `since and after are marks that the Ledger Room gave; limit is from 1 to ${MOST}.`);
  const column = q.get("where");
  if (column !== null && !(KINDS[kind] as readonly string[]).includes(column)) return problem(422, `${kind} have no ${column}.`);
  const where = column === null ? null : { column, values: q.getAll("is") };
  const found = itemsAfter(db, kind, from, since !== null, limit + 1, where);
  const items = found.slice(0, limit);
  const last = items.at(-1)?.seq ?? from;
  const turned = faults.skips && after === null && found.length > limit ? items.slice(Math.ceil(items.length / 2)) : items;
  return {
    status: 200,
    said: {
      items: (faults.repeats ? [...turned, ...turned] : turned).map((i) => shown(i, faults)),
      // What comes after this page; null where it is the last.
      after: found.length > limit ? String(last) : null,
      // From where changes are asked for next time.
      mark: String(lastSeq(db)),
      // Counts all pages together, so that a missing one is noticed.
      total: totalOf(db, kind, Number(since ?? 0), since !== null, where),
    },
  };
}

function make(db: Ledger, kind: Kind, a: Asked, faults: Faults, now: number): Said {
  const once = a.headers["idempotency-key"];
  if (typeof once !== "string" || !/^[\x21-\x7e]{1,200}$/.test(once)) return problem(400, "A POST carries an Idempotency-Key.");
  const before = madeBefore(db, once);
  if (before) return one(itemBy(db, before.kind, before.id)!, 201, faults);
  const values = valuesIn(kind, a.body);
  if (typeof values === "string") return problem(422, values);
  const made = putItem(db, kind, null, values, now);
  noteMade(db, once, kind, made.id);
  return one(made, 201, faults);
}

const RULES: Readonly<Record<string, z.ZodString>> = {
  email: z.string().regex(/^$|^\S+@\S+$/, "is no e-mail address"),
  worth: z.string().regex(/^$|^-?\d+(\.\d+)?$/, "is no number"),
  closes: z.string().regex(/^$|^\d{4}-\d\d-\d\d$/, "is no date"),
  opened: z.string().regex(/^$|^\d{4}-\d\d-\d\d$/, "is no date"),
};

/** What a body says, or what is wrong with it. */
function valuesIn(kind: Kind, body: string): Record<string, string> | string {
  const shape = z.partialRecord(z.enum(KINDS[kind] as readonly string[] as [string, ...string[]]), z.string().max(2_000));
  let parsed: unknown;
  try {
    parsed = JSON.parse(body);
  } catch {
    return "The body is no JSON.";
  }
  const r = shape.safeParse(parsed);
  if (!r.success) return r.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`).join("; ");
  for (const [c, v] of Object.entries(r.data)) {
    const ruled = RULES[c]?.safeParse(v);
    if (ruled && !ruled.success) return `${c} ${ruled.error.issues[0]!.message}.`;
  }
  if (Object.hasOwn(r.data, KINDS[kind][0]) && !r.data[KINDS[kind][0]]) return `${KINDS[kind][0]} may not be empty.`;
  return r.data as Record<string, string>;
}
