/** Commands against a portal that is running: over its HTTP API, with the rights of a key. */
import { createHash } from "node:crypto";
import { createWriteStream } from "node:fs";
import { readFile, rename } from "node:fs/promises";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { z } from "zod";
import { CsvReader, guessDelimiter, isBlank } from "@/core/exchange/csv";
import { type Asked, Refused, type Said } from "./asked";

const AT_ONCE = 1_000;
const PAGE = 200;
const SHOWN = 20;

type To = NonNullable<Asked["remote"]>;

const problem = z.object({ detail: z.string() });

async function ask(to: To, path: string, init: RequestInit = {}): Promise<Response> {
  const base = to.at.href.endsWith("/") ? to.at.href : `${to.at.href}/`;
  const headers = { authorization: `Bearer ${to.key}`, ...init.headers };
  const answer = await fetch(new URL(`api/v1/${path}`, base), { ...init, headers, redirect: "error" }).catch((e: Error) => {
    throw new Refused(`${to.at.host} could not be reached (${(e.cause as { code?: string } | undefined)?.code ?? e.message}).`);
  });
  if (answer.ok) return answer;
  const said = problem.safeParse(await answer.json().catch(() => null));
  throw new Refused(`${to.at.host}: ${said.success ? said.data.detail : `it answered ${answer.status}.`}`);
}

const tables = z.object({
  tables: z.array(
    z.object({ slug: z.string(), name: z.string(), fields: z.array(z.object({ slug: z.string(), name: z.string(), type: z.string() })) }),
  ),
});
type Table = z.infer<typeof tables>["tables"][number];

const known = async (to: To): Promise<Table[]> => {
  const r = tables.safeParse(await (await ask(to, "tables")).json());
  if (!r.success) throw new Refused(`${to.at.host} answers in a form that is not Elkhorn's.`);
  return r.data.tables;
};
const like = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();
async function tableOf(to: To, asked: string): Promise<Table> {
  const table = (await known(to)).find((t) => like(t.slug, asked) || like(t.name, asked));
  if (!table) throw new Refused(`The key opens no table “${asked}”.`);
  return table;
}

export async function remoteCommand(a: Asked, to: To): Promise<Said> {
  switch (a.command) {
    case "import":
      return bringIn(a, to);
    case "export":
      return takeOut(a, to);
    case "check":
      return check(to);
    case "link":
      return link(a, to);
    case "client":
      return (await import("./client")).writeClient(await (await ask(to, "openapi.json")).json(), a.args[0]!);
    case "publish":
    case "backup":
      throw new Refused(`A key opens records, and ${a.command} is the owner's: run it where the folder is, with --data.`);
  }
}

async function check(to: To): Promise<Said> {
  const me = z.object({ roles: z.array(z.object({ name: z.string() })) }).parse(await (await ask(to, "me")).json());
  const open = await known(to);
  const roles = me.roles.map((r) => r.name);
  return {
    lines: [
      `${to.at.host} answers. The key is ${roles.join(", ") || "of no role"}, and opens ${open.map((t) => t.name).join(", ") || "nothing"}.`,
    ],
    json: { answers: true, roles, tables: open.map((t) => t.slug) },
  };
}

async function link(a: Asked, to: To): Promise<Said> {
  const [asked, id] = a.args;
  const at = to.at.href.replace(/\/$/, "");
  if (!asked) return { lines: [at], json: { address: at } };
  const table = await tableOf(to, asked);
  if (id) await ask(to, `tables/${table.slug}/records/${encodeURIComponent(id)}`);
  const address = `${at}/${table.slug}${id ? `/${id}` : ""}`;
  return { lines: [address], json: { address } };
}

async function takeOut(a: Asked, to: To): Promise<Said> {
  const table = await tableOf(to, a.args[0]!);
  const answer = await ask(to, `tables/${table.slug}/export?format=${a.format}`);
  if (!a.out) {
    if (a.json) throw new Refused("With --json say where it goes: --out FILE.", [], 2);
    await pipeline(Readable.fromWeb(answer.body as never), process.stdout, { end: false });
    return { lines: [], json: {} };
  }
  // Under its own name once it is whole.
  await pipeline(Readable.fromWeb(answer.body as never), createWriteStream(`${a.out}.part`));
  await rename(`${a.out}.part`, a.out);
  return { lines: [`${table.name} is in ${a.out}.`], json: { table: table.slug, file: a.out } };
}

interface Line {
  readonly n: number;
  readonly cells: readonly string[];
}

function linesOf(text: string): { header: string[]; rows: Line[] } {
  const reader = new CsvReader(guessDelimiter(text.slice(0, 20_000)));
  const all = [...reader.push(text), ...reader.end()].filter((r) => !isBlank(r));
  const [wrong] = reader.errors;
  if (wrong)
    throw new Refused(
      `Line ${wrong.line}: ${wrong.code === "open-quote" ? "a quote is opened and never closed" : "a quote stands within a cell"}.`,
    );
  const [header, ...rows] = all;
  if (!header || rows.length === 0) throw new Refused("This file has no rows.");
  return { header: header.cells.map((c) => c.trim()), rows: rows.map((r) => ({ n: r.line, cells: r.cells })) };
}

const YES = /^(yes|true|1)$/i;
const NO = /^(no|false|0)$/i;
/** Types of field whose JSON is not text, each with how it is read. */
const AS_JSON: Readonly<Record<string, (t: string) => unknown>> = {
  number: (t) => (Number.isNaN(Number(t)) ? t : Number(t)),
  "yes-no": (t) => (YES.test(t) ? true : NO.test(t) ? false : t),
};
/** As JSON has it; the portal says what is wrong with it. */
function jsonOf(type: string, text: string): unknown {
  const t = text.trim();
  if (t === "") return null;
  return Object.hasOwn(AS_JSON, type) ? AS_JSON[type]!(t) : t;
}

const bulk = z.object({
  results: z.array(
    z.object({
      status: z.number(),
      problem: z
        .object({ detail: z.string(), errors: z.array(z.object({ field: z.string(), message: z.string() })).optional() })
        .optional(),
    }),
  ),
});

async function bringIn(a: Asked, to: To): Promise<Said> {
  const [asked, path] = a.args as [string, string];
  const table = await tableOf(to, asked);
  const text = await readFile(path, "utf8").catch((e: NodeJS.ErrnoException) => {
    throw new Refused(`${path} cannot be read (${e.code}).`);
  });
  const { header, rows } = linesOf(text);
  const fields = header.map((h) => table.fields.find((f) => like(f.name, h) || like(f.slug, h)));
  const strange = header.filter((_, i) => !fields[i]);
  if (strange.length > 0) throw new Refused(`${table.name} has no field for ${strange.map((s) => `“${s}”`).join(", ")}.`);
  const by = a.by === null ? -1 : header.findIndex((h, i) => like(h, a.by!) || like(fields[i]!.slug, a.by!));
  if (a.by !== null && by === -1) throw new Refused(`There is no column “${a.by}” in the file.`);
  const there = by === -1 ? new Map<string, string>() : await idsBy(to, table, fields[by]!.slug);
  const writes = rows.map((r) => {
    const values = Object.fromEntries(fields.map((f, i) => [f!.slug, jsonOf(f!.type, r.cells[i] ?? "")]));
    const id = by === -1 ? undefined : there.get((r.cells[by] ?? "").trim());
    return id ? { do: "change", id, fields: values } : { do: "add", fields: values };
  });
  // The same file again is the same request: what broke off is gone on with, and nothing comes in twice within a day.
  const hash = createHash("sha256")
    .update(JSON.stringify([table.slug, writes]))
    .digest("hex")
    .slice(0, 32);
  const wrong: string[] = [];
  let done = 0;
  for (let at = 0; at < writes.length; at += AT_ONCE) {
    const body = JSON.stringify({ writes: writes.slice(at, at + AT_ONCE) });
    const headers = { "content-type": "application/json", "idempotency-key": `cli-${hash}-${at}` };
    const { results } = bulk.parse(await (await ask(to, `tables/${table.slug}/bulk`, { method: "POST", headers, body })).json());
    results.forEach((r, i) => {
      if (r.status < 300) done += 1;
      else {
        const why = r.problem?.errors?.map((e) => `${e.field}: ${e.message}`).join(" ") || r.problem?.detail || String(r.status);
        wrong.push(`line ${rows[at + i]!.n}: ${why}`);
      }
    });
  }
  const words = `${done} of ${writes.length} rows are in ${table.name}.`;
  if (wrong.length > 0)
    throw new Refused(words, wrong.slice(0, SHOWN).concat(wrong.length > SHOWN ? [`and ${wrong.length - SHOWN} more`] : []));
  return { lines: [words], json: { table: table.slug, rows: done } };
}

const page = z.object({
  records: z.array(z.object({ id: z.string(), fields: z.record(z.string(), z.unknown()) })),
  nextCursor: z.string().nullable(),
});

/** Ids of all records, by the text of a field. */
async function idsBy(to: To, table: Table, slug: string): Promise<Map<string, string>> {
  const ids = new Map<string, string>();
  let path: string | null = `tables/${table.slug}/records?limit=${PAGE}`;
  while (path !== null) {
    const p: z.infer<typeof page> = page.parse(await (await ask(to, path)).json());
    for (const r of p.records) {
      const v = r.fields[slug];
      if (v !== null && v !== undefined) ids.set(String(v), r.id);
    }
    path = p.nextCursor ? `tables/${table.slug}/records?limit=${PAGE}&cursor=${encodeURIComponent(p.nextCursor)}` : null;
  }
  return ids;
}
