/** The Ledger Room: a records system over HTTP that tells what has changed, and takes changes. */
import { z } from "zod";
import { err, ok, type Result } from "@/core/result";
import { guardedFetch } from "../outside/guarded";
import { troubleOf, unreachable } from "./address";
import {
  differing,
  later,
  MOST_SOURCE_BYTES,
  never,
  SOURCE_WAITS,
  type SourceAdapter,
  type SourceOnly,
  type SourceRow,
  type SourceSettings,
  type SourceTrouble,
  type SourceWrite,
  type SourceWritten,
  Troubled,
} from "./contract";

const PAGE = 500;
const MOST_PAGE = 8 * 1024 * 1024;
/** Behind the columns of a kind: they are no part of what is written. */
const OWN = ["version", "changed_at"];

const value = z.union([z.string(), z.number(), z.boolean()]).nullable();
const item = z.object({ id: z.string().min(1) }).catchall(value);
type Item = z.infer<typeof item>;
const page = z.object({ items: z.array(item), after: z.string().nullable(), mark: z.string(), total: z.number() });
const kinds = z.object({ kinds: z.array(z.string()) });

const rowOf = (i: Item): SourceRow => Object.fromEntries(Object.entries(i).map(([c, v]) => [c, v === null ? "" : String(v)]));

interface Answer {
  readonly status: number;
  readonly body: unknown;
}

/** Tries of one page that is not to be had just now, and milliseconds that are waited for it at the most. */
const TRIES = 5;
const PATIENCE = 60_000;

/** A page asked for too soon is asked for again when the Ledger Room says: a first reading has hundreds of them. @throws Troubled */
async function askPatiently(s: SourceSettings, path: string): Promise<Answer> {
  for (let tries = 1; ; tries++) {
    try {
      return await ask(s, path);
    } catch (e) {
      const wait = e instanceof Troubled && e.trouble.when === "later" ? e.trouble.wait : undefined;
      if (wait === undefined || wait > PATIENCE || tries === TRIES) throw e;
      await new Promise((done) => setTimeout(done, wait));
    }
  }
}

/** @throws Troubled, with a sentence, for whatever is neither an answer nor one of `fine`. */
async function ask(s: SourceSettings, path: string, init: RequestInit = {}, fine: readonly number[] = []): Promise<Answer> {
  const base = s.address ?? "";
  if (!URL.canParse(base) || !/^https?:$/.test(new URL(base).protocol))
    throw new Troubled(never("Write the whole address, beginning with https://."));
  const url = new URL(path, base);
  const headers = { accept: "application/json", authorization: `Bearer ${s.key ?? ""}`, ...init.headers };
  try {
    const answer = await guardedFetch(url, { ...init, headers }, { bytes: MOST_PAGE, waits: SOURCE_WAITS / 4 });
    const known = answer.ok || fine.includes(answer.status);
    if (answer.status === 422) throw new Troubled(never(`${url.host} refuses it: ${await detailOf(answer)}`));
    if (!known) throw new Troubled(troubleOf(answer.status, url.host, answer.headers.get("retry-after") ?? undefined));
    return { status: answer.status, body: answer.status === 204 ? null : await answer.json() };
  } catch (e) {
    if (e instanceof SyntaxError) throw new Troubled(later(`${url.host} answered with something that is no JSON.`));
    throw e instanceof Troubled ? e : new Troubled(unreachable(e as Error, url.host));
  }
}

const detailOf = async (answer: Response): Promise<string> => {
  const said = z.object({ detail: z.string() }).safeParse(await answer.json().catch(() => null));
  return said.success ? said.data.detail.slice(0, 300) : "it does not say why.";
};

function parsed<T>(schema: z.ZodType<T>, body: unknown, host: string): T {
  const r = schema.safeParse(body);
  if (!r.success) throw new Troubled(later(`${host} answered in a form that is not the Ledger Room's.`));
  return r.data;
}

async function within<T>(work: () => Promise<T>): Promise<Result<T, SourceTrouble>> {
  try {
    return ok(await work());
  } catch (e) {
    if (e instanceof Troubled) return err(e.trouble);
    throw e;
  }
}

const hostOf = (s: SourceSettings): string => (URL.canParse(s.address ?? "") ? new URL(s.address!).host : "");
const pathOf = (object: string): string => `/v1/${encodeURIComponent(object)}`;
const pageAt = async (s: SourceSettings, object: string, since: string | null, after: string | null, only: SourceOnly | null) => {
  const q = new URLSearchParams({ limit: String(PAGE), ...(since === null ? {} : { since }), ...(after === null ? {} : { after }) });
  if (only) q.set("where", only.column);
  for (const v of only?.values ?? []) q.append("is", v);
  const asked = after === null ? ask(s, `${pathOf(object)}?${q}`) : askPatiently(s, `${pathOf(object)}?${q}`);
  return parsed(page, (await asked).body, hostOf(s));
};

async function write(s: SourceSettings, object: string, w: SourceWrite): Promise<SourceWritten> {
  const values = Object.fromEntries(Object.entries(w.values).filter(([c]) => c !== "id" && !OWN.includes(c)));
  const body = JSON.stringify(values);
  const headers = { "content-type": "application/json" };
  const written = (a: Answer): SourceWritten => {
    const row = rowOf(parsed(item, a.body, hostOf(s)));
    return { kind: "written", key: row.id!, row };
  };
  if (w.key === null)
    return written(await ask(s, pathOf(object), { method: "POST", body, headers: { ...headers, "idempotency-key": w.once } }));
  const at = `${pathOf(object)}/${encodeURIComponent(w.key)}`;
  // Where somebody else is quicker than each of a few tries, it is tried again later.
  for (let tries = 0; tries < 5; tries++) {
    const now = await ask(s, at, {}, [404, 410]);
    if (now.status !== 200) return { kind: "gone" };
    const row = rowOf(parsed(item, now.body, hostOf(s)));
    if (w.seen && differing(values, w.seen, row).length > 0) {
      const changed = Date.parse(row.changed_at ?? "");
      return { kind: "differs", row, changedAt: Number.isNaN(changed) ? null : changed };
    }
    const done = await ask(s, at, { method: "PATCH", body, headers: { ...headers, "if-match": `"${row.version}"` } }, [404, 410, 412]);
    if (done.status === 200) return written(done);
    if (done.status !== 412) return { kind: "gone" };
  }
  throw new Troubled(later(`${hostOf(s)} changes this record all the time.`));
}

export const ledgerSource: SourceAdapter = {
  name: "The Ledger Room",
  about: "A records system with companies, contacts, deals and tickets, which takes changes, too. One comes with the demo.",
  fields: [
    { name: "address", label: "Address", hint: "Of its API, such as https://ledger.agency.example" },
    { name: "key", label: "Key", hint: "As the Ledger Room gave it", secret: true },
  ],
  fixed: OWN,
  objects: (s) =>
    within(async () =>
      parsed(kinds, (await ask(s, "/v1")).body, hostOf(s)).kinds.map((k) => ({ id: k, name: k[0]!.toUpperCase() + k.slice(1) })),
    ),
  filters: true,
  read: (s, object, since, only = null) =>
    within(async () => {
      // Among changes, rows that were of these and are not any more are gone: they come, and are told apart here.
      const asked = since === null ? only : null;
      const first = await pageAt(s, object, since, null, asked);
      const isOne = (i: Item): boolean => !only || only.values.includes(rowOf(i)[only.column] ?? "");
      const named =
        first.items.find((i) => !i.removed) ?? (since === null ? undefined : (await pageAt(s, object, null, null, null)).items[0]);
      // Nobody can tell the columns of a kind that has no record; they are asked for again once it has one.
      const header = named ? Object.keys(rowOf(named)) : ["id"];
      const gone: string[] = [];
      async function* pieces(): AsyncGenerator<string[][]> {
        const met = new Set<string>();
        let bytes = 0;
        // One page after the other: asking ahead would keep this thread busier, and whoever opens the portal meanwhile would wait longer.
        for (let p = first; ; p = await pageAt(s, object, since, p.after, asked)) {
          const fresh = p.items.filter((i) => !met.has(i.id) && met.add(i.id));
          for (const i of fresh) for (const c in i) bytes += c.length + String(i[c]).length + 6;
          if (bytes > MOST_SOURCE_BYTES) throw new Troubled(never(`${hostOf(s)} has more than is taken in at once.`));
          for (const i of fresh) if (i.removed || !isOne(i)) gone.push(i.id);
          yield fresh
            .filter((i) => !i.removed && isOne(i))
            .map((i) => header.map((c) => (i[c] === null || i[c] === undefined ? "" : String(i[c]))));
          if (p.after === null) {
            if (met.size < p.total) throw new Troubled(later(`${hostOf(s)} left out ${p.total - met.size} of ${p.total} rows.`));
            return;
          }
        }
      }
      // Whatever changes while pages are read comes again the next time.
      return {
        fileName: `${object}.csv`,
        header,
        pieces: pieces(),
        key: "id",
        whole: since === null,
        end: () => ({ mark: first.mark, gone }),
      };
    }),
  write: (s, object, w) => within(() => write(s, object, w)),
};
