import { copyFileSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { getPriority, tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { fieldBySlug } from "@/core/schema/types";
import { portalFile } from "@/data/file/open";
import Database from "@/data/file/sqlite";
import { beginImport, bringInImport, CHECK, checkReceived, importJob, startCheck } from "@/data/imports/jobs";
import { createPortal, movePortal } from "@/data/installation/portals";
import { onNewJob } from "@/data/jobs/queue";
import { Runner } from "@/data/jobs/runner";
import { retypeTask } from "@/data/schema/tasks";
import { addTable } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { runIn, ThreadEnded } from "@/data/threads";
import { inTurn } from "@/data/turns";
import { planOf, textColumn } from "@/testing/imports";
import { PUBLISHER, testViewer } from "@/testing/world";
import { bundle } from "../../../scripts/bundle.mjs";
import { Threads } from "./thread";

const ROOT = join(import.meta.dirname, "../../..");
// Beside the packages that it uses.
const bundled = join(ROOT, ".tmp", `threads-${process.pid}`);
const folder = mkdtempSync(join(tmpdir(), "elkhorn-threads-"));
const threads = new Threads(join(bundled, "worker.mjs"));
const owner = testViewer({ kind: "owner", company: null }) as Owner;
const ROWS = 400;
const csv = `Name,Client\n${Array.from({ length: ROWS }, (_, i) => `Thing ${i},Client ${i % 7}`).join("\n")}\n`;

beforeAll(async () => {
  process.env.ELKHORN_DATA = folder;
  await bundle(["src/server/threads/worker.ts"], bundled, { whole: true });
  runIn(threads.run);
});
afterAll(async () => {
  runIn(null); // other files of this worker have their own
  await threads.end();
  for (const f of [folder, bundled]) rmSync(f, { recursive: true, force: true });
});

/** The nice value of each thread of this process, as proc_pid_stat(5) has it: the 19th field, the 17th after the name in brackets. */
const ranks = (): number[] =>
  readdirSync("/proc/self/task").map((tid) =>
    Number(readFileSync(`/proc/self/task/${tid}/stat`, "utf8").split(") ").at(-1)!.split(" ")[16]),
  );

it("an import is read, checked and brought in by threads, and is seen here at once; asked for twice, it is in once", async () => {
  const made = createPortal("threaded", "Threaded", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const { file } = made;
  const runner = new Runner({ [CHECK]: (f, job) => checkReceived(f, (job.body as { id: string }).id) });
  onNewJob(runner.wake);
  const begun = await beginImport(file, owner, "things.csv", new Blob([csv]).stream());
  if (!begun.ok) throw new Error(begun.error);
  const { id } = begun.value;
  startCheck(file, owner, id, planOf({ columns: ["Name", "Client"].map(textColumn), company: 1 }));
  while (importJob(file, owner, id)!.state === "checking") await new Promise((r) => setTimeout(r, 5));
  expect(importJob(file, owner, id)).toMatchObject({ state: "checked", result: { good: ROWS, bad: 0 } });
  const both = await Promise.all([bringInImport(file, owner, id), bringInImport(file, owner, id)]);
  expect(both.map((x) => x.ok).sort()).toEqual([false, true]);
  const table = schemaOf(file).tableBySlug("things")!;
  expect(file.db.prepare(`SELECT count(*), count(DISTINCT created_by) FROM "${table.id}"`).raw().get()).toEqual([ROWS, 1]);
  expect(file.db.prepare(`SELECT created_by FROM "${table.id}" LIMIT 1`).pluck().get()).toContain(owner.person!.id);
  // The one that stands ready still ranks behind this one, where Linux ranks threads one by one.
  if (existsSync("/proc/thread-self") && getPriority() < 10) expect(ranks()).toContain(10);
  await runner.stop();
  // What stood in the log is in the file, without anybody here having waited for it.
  const alone = (): number => {
    copyFileSync(file.db.name, join(folder, "alone.db"));
    const copy = new Database(join(folder, "alone.db"), { readonly: true });
    try {
      return copy.prepare(`SELECT count(*) FROM "${table.id}"`).pluck().get() as number;
    } catch {
      return 0;
    } finally {
      copy.close();
    }
  };
  await expect.poll(alone, { timeout: 10_000 }).toBe(ROWS);
});

it("a thread that served one portal does not take another, which has its address now, for it", async () => {
  const field = (slug: string): string => fieldBySlug(schemaOf(portalFile(slug)!).tableBySlug("signs")!, "size")!.id;
  const signs = { slug: "signs", name: "Signs", singular: "Sign", fields: [{ slug: "size", name: "Size", type: "text" as const }] };
  const retyped = (slug: string) =>
    retypeTask.do(
      { portal: slug, field: field(slug), type: "long-text", options: {}, reading: {}, by: null, add: false, rest: "refuse" },
      owner,
    );
  const types = (): unknown[] =>
    ["first", "elsewhere"].map((s) => portalFile(s)?.db.prepare("SELECT type FROM sys_fields WHERE slug = 'size'").pluck().get());
  createPortal("first", "First", PUBLISHER);
  addTable(portalFile("first")!, signs);
  expect((await retyped("first")).ok).toBe(true);
  movePortal(owner, "first", "elsewhere");
  createPortal("first", "Another", PUBLISHER);
  addTable(portalFile("first")!, signs);
  expect(types()).toEqual(["text", "long-text"]);
  expect((await retyped("first")).ok).toBe(true);
  expect(types()).toEqual(["long-text", "long-text"]);
});

it("what goes wrong there arrives here, and a task for somebody is not done for anybody", async () => {
  await expect(threads.run("analyse an import", { id: "no id" }, () => {})).rejects.toThrow("is not an import's id");
  await expect(threads.run("commit an import", { portal: "threaded", id: "x" }, () => {})).rejects.toThrow("asked for by somebody");
  const lead = testViewer({ roles: ["lead"] });
  await expect(threads.run("commit an import", { portal: "threaded", id: "x" }, () => {}, lead)).rejects.toThrow("the owner's to bring in");
  await expect(threads.run("make tea", {}, () => {})).rejects.toThrow("No task is called make tea");
  const missing = threads.run("analyse an import", { id: "00000000-0000-7000-8000-000000000000" }, () => {});
  await expect(missing).rejects.toMatchObject({ code: "ENOENT" });
});

it("several imports that are brought in at once are all in", { timeout: 60_000 }, async () => {
  const made = createPortal("at-once", "At once", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const { file } = made;
  const runner = new Runner({ [CHECK]: (f, job) => checkReceived(f, (job.body as { id: string }).id) });
  onNewJob(runner.wake);
  const ids: string[] = [];
  for (let i = 0; i < 4; i++) {
    const begun = await beginImport(file, owner, `t${i}.csv`, new Blob([csv]).stream());
    if (!begun.ok) throw new Error(begun.error);
    ids.push(begun.value.id);
    startCheck(file, owner, ids[i]!, { ...planOf({ columns: ["Name", "Client"].map(textColumn) }), table: { name: `Things ${i}` } });
  }
  const states = () => ids.map((id) => importJob(file, owner, id)!.state);
  while (states().includes("checking")) await new Promise((r) => setTimeout(r, 5));
  expect(states()).toEqual(Array(4).fill("checked"));
  // Whoever writes much there already is waited for; each of them waits for those before it.
  const said: string[] = [];
  const before = inTurn("at-once", async () => {
    for (let i = 0; i < 3; i++) await threads.run("make tea", {}, () => {}).catch(() => {});
    said.push("the one before is done");
  });
  const answers = await Promise.all(
    ids.map(async (id) => {
      const answer = await bringInImport(file, owner, id);
      said.push("in");
      return answer;
    }),
  );
  await before;
  expect(said).toEqual(["the one before is done", ...Array(4).fill("in")]);
  expect(answers.map((a) => (a.ok ? a.value.rows : a.error))).toEqual(Array(4).fill(ROWS));
  expect(states()).toEqual(Array(4).fill("done"));
  await runner.stop();
});

it("more than can run at once wait their turn; a thread that is broken off says so", async () => {
  const some = new Threads(join(bundled, "worker.mjs"));
  const ask = () => some.run("make tea", {}, () => {}).catch((e: Error) => e.message);
  expect(new Set(await Promise.all(Array.from({ length: 7 }, ask)))).toEqual(new Set(["No task is called make tea."]));
  await some.end();
  // One that never answers.
  const deaf = join(folder, "deaf.mjs");
  writeFileSync(deaf, 'import { parentPort } from "node:worker_threads"; parentPort.on("message", () => {});');
  const others = new Threads(deaf);
  const told = expect(others.run("make tea", {}, () => {})).rejects.toThrow(ThreadEnded);
  await new Promise((r) => setImmediate(r));
  await others.end();
  await told;
});
