/** How long a page of a portal takes, as it is served, while the same process reads another system or tells webhooks, beside how long it takes alone. */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { request } from "node:http";
import { join } from "node:path";
import { text } from "node:stream/consumers";
import { published } from "@/data/definition/published";
import { closeFiles, type PortalFile, portalFile } from "@/data/file/open";
import { CHECK, checkReceived } from "@/data/imports/jobs";
import { enqueue, onNewJob } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";
import { actingOf } from "@/data/people/acting";
import { makeKey } from "@/identity/keys/keys";
import { READ_SOURCE } from "@/office/sources/feeds";
import { must } from "@/testing/portal";
import { addHook } from "@/webhooks/hooks";
import { changeTenth, fillLedger, firstFill, ledgerProcess, OWNER } from "./ledger";
import { median, print, round } from "./measure";
import { call, freePort, served } from "./served";

const ROWS = 100_000;
const ALONE_MS = 12_000;
const BEGINS_MS = 45_000;
/** Of a thousand a minute, as many as twelve seconds take. */
const WRITES = 200;
const EVERY_MS = 60;

const RECEIVER = `require("node:http").createServer((q, a) => { q.resume(); q.on("end", () => a.end("taken")); }).listen(Number(process.argv[1]), "127.0.0.1", () => console.log("up"));`;

const p95 = (times: readonly number[]): number => [...times].sort((a, b) => a - b)[Math.floor(times.length * 0.95)]!;
const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** Milliseconds of each page, for as long as `goesOn`. */
async function pagesWhile(page: () => Promise<number>, goesOn: () => boolean): Promise<number[]> {
  const times: number[] = [];
  while (goesOn()) {
    times.push(await page());
    await pause(5);
  }
  return times;
}
const forMs = (ms: number): (() => boolean) => {
  const until = Date.now() + ms;
  return () => Date.now() < until;
};

export async function benchBeside(): Promise<void> {
  const children: { end: () => void }[] = [];
  let data = "";
  let token = "";
  let receiver = "";
  let begins = 0;
  const before = async (folder: string): Promise<void> => {
    data = folder;
    process.env.ELKHORN_DATA = data;
    process.env.ELKHORN_INSIDE = "localhost";
    const ledger = join(data, "ledger-bench.db");
    const key = fillLedger(ledger, ROWS);
    const room = await ledgerProcess(ledger);
    children.push(room);
    const file = portalFile("fernhill")!;
    const runner = new Runner({ [CHECK]: (f, job) => checkReceived(f, (job.body as { id: string }).id) });
    onNewJob(runner.wake);
    const { feed } = await firstFill(file, room.port, key, ROWS);
    await runner.stop();
    changeTenth(ledger);
    const posts = await receiving();
    children.push(posts);
    receiver = posts.url;
    const person = writerOf(file);
    const of = { kind: "person", person, membership: actingOf(file, person)!.memberships[0]!.id } as const;
    token = must(makeKey(file, OWNER, { name: "Bench", of, within: null, networks: [], perMinute: 6_000, tools: false, days: null })).token;
    begins = Date.now() + BEGINS_MS;
    enqueue(file, READ_SOURCE, { feed, now: true }, begins);
    closeFiles();
  };
  try {
    await served(async ({ port, cookie }) => {
      const dana = await cookie("dana@saltmarsh.example");
      const page = async (): Promise<number> => {
        const got = await call(port, "fernhill.localhost", "/signs", dana);
        if (got.status !== 200) throw new Error(`The page answered ${got.status}.`);
        return got.ms;
      };
      const alone = async (): Promise<number> => p95(await pagesWhile(page, forMs(ALONE_MS)));
      await alone();
      await besideReading(page, alone, begins);
      await besideWebhooks(page, alone, { port, token, receiver });
    }, before);
  } finally {
    for (const c of children) c.end();
  }
}

async function besideReading(page: () => Promise<number>, alone: () => Promise<number>, begins: number): Promise<void> {
  const first = await alone();
  const file = portalFile("fernhill")!;
  const runs = file.db.prepare("SELECT state FROM sys_source_runs WHERE at >= ? ORDER BY n DESC LIMIT 1").pluck();
  const state = (): unknown => runs.get(begins - 1_000);
  while (state() === undefined) await pause(20);
  const from = Date.now();
  const times = await pagesWhile(page, () => state() === "running");
  const took = (Date.now() - from) / 1_000;
  if (state() !== "done") throw new Error(`The reading ended as ${state()}.`);
  const idle = median([first, await alone()]);
  print({
    name: `p95 of a list page while ${ROWS} records are read from another system`,
    ratio: round(p95(times) / idle),
    unit: `x alone (${round(idle)} ms; ${times.length} pages in ${round(took)} s)`,
    goal: "<= 1.2",
  });
}

interface Telling {
  readonly port: number;
  readonly token: string;
  /** Where webhooks go. */
  readonly receiver: string;
}

async function besideWebhooks(page: () => Promise<number>, alone: () => Promise<number>, t: Telling): Promise<void> {
  const file = portalFile("fernhill")!;
  const idle = await alone();
  const written = p95(await besideWrites(page, t));
  const [membership] = actingOf(file, writerOf(file))!.memberships;
  const table = published(file).policy.schema.tables.find((x) => x.slug === "requests")!.id;
  const told = { role: membership!.roles[0]!, company: membership!.companyId };
  must(addHook(file, OWNER, { name: "Bench", url: t.receiver, kinds: ["record-changed"], table, filter: null, ...told }));
  const beside = p95(await besideWrites(page, t));
  const taken = file.db.prepare("SELECT count(*) FROM sys_webhook_sends WHERE state = 'taken'").pluck().get() as number;
  if (taken < WRITES * 0.9) throw new Error(`${taken} webhooks of ${WRITES} were taken.`);
  print({
    name: "p95 of a list page beside 1,000 changes a minute by the API that a webhook is told of",
    ratio: round(beside / written),
    unit: `x the same changes with nobody told (${round(beside / idle)} x alone, ${round(idle)} ms)`,
    goal: "<= 1.3",
  });
}

/** Pages while one record after another is changed by the API. */
async function besideWrites(page: () => Promise<number>, { port, token }: Telling): Promise<number[]> {
  const ask = (method: string, path: string, body?: object): Promise<{ records?: { id: string }[] }> =>
    new Promise((done, failed) => {
      const headers = { host: `fernhill.localhost:${port}`, authorization: `Bearer ${token}`, "content-type": "application/json" };
      const asked = request(
        { host: "127.0.0.1", port, path: `/api/v1/tables/requests/records${path}`, method, headers },
        async (answer) => {
          const said = await text(answer);
          if (answer.statusCode === 200) done(JSON.parse(said));
          else failed(new Error(`The API answered ${answer.statusCode} ${said}`));
        },
      );
      asked.on("error", failed).end(body && JSON.stringify(body));
    });
  const { records } = await ask("GET", "?limit=20");
  let going = true;
  const pages = pagesWhile(page, () => going);
  const from = Date.now();
  for (let i = 0; i < WRITES; i++) {
    await ask("PATCH", `/${records![i % records!.length]!.id}`, { fields: { subject: `Changed at ${from} ${i}` } });
    await pause(Math.max(0, from + (i + 1) * EVERY_MS - Date.now()));
  }
  going = false;
  return pages;
}

async function receiving(): Promise<{ url: string; end: () => void }> {
  const port = await freePort();
  const child: ChildProcess = spawn(process.execPath, ["-e", RECEIVER, String(port)], { stdio: ["ignore", "pipe", "inherit"] });
  await once(child.stdout!, "data");
  return { url: `http://localhost:${port}/`, end: () => void child.kill() };
}

const writerOf = (file: PortalFile): string =>
  file.db.prepare("SELECT id FROM t_people WHERE f_person_email = 'ines@fernhill.example'").pluck().get() as string;
