import { existsSync, readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { ownFolder } from "@/testing/folder";
import { planOf, textColumn, toField } from "@/testing/imports";
import { PUBLISHER, testViewer } from "@/testing/world";
import { draftOf } from "../definition/draft";
import type { PortalFile } from "../file/open";
import { createPortal } from "../installation/portals";
import { claim, onNewJob, releaseLeases } from "../jobs/queue";
import { Runner } from "../jobs/runner";
import { countOf } from "../tables/count";
import { schemaOf } from "../tables/read";
import { badRows } from "./checking/stage";
import {
  beginImport,
  bringInImport,
  CHECK,
  checkReceived,
  importJob,
  startCheck,
  sweepImportRows,
  sweepImports,
  takeBackImport,
} from "./jobs";
import { importPath } from "./reading/paths";

const folder = ownFolder();
const owner = testViewer({ kind: "owner", company: null }) as Owner;
let n = 0;
const portal = (): PortalFile => {
  const made = createPortal(`p${++n}`, "P", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  return made.file;
};

const work = (file: PortalFile, job: { body: unknown }) => checkReceived(file, (job.body as { id: string }).id);
let runner = new Runner({ [CHECK]: work });

beforeAll(() => {
  onNewJob((file) => runner.wake(file));
});

async function begin(file: PortalFile, text: string | Uint8Array<ArrayBuffer>) {
  const begun = await beginImport(file, owner, "t.csv", new Blob([text]).stream());
  if (!begun.ok) throw new Error(begun.error);
  return importJob(file, owner, begun.value.id)!;
}

async function checked(file: PortalFile, job: Awaited<ReturnType<typeof begin>>, plan: Partial<Parameters<typeof planOf>[0]> = {}) {
  const columns = job.analysis.header.map((name, i): ImportPlan["columns"][number] => ({
    to: "new",
    name,
    type: job.analysis.columns[i]!.type,
    order: job.analysis.columns[i]!.dateOrder,
    choices: [...job.analysis.columns[i]!.choices],
  }));
  const started = startCheck(file, owner, job.id, planOf({ columns, ...plan }));
  if (!started.ok) throw new Error(started.error);
  while (importJob(file, owner, job.id)!.state === "checking") await new Promise((r) => setTimeout(r, 5));
  return importJob(file, owner, job.id)!;
}

const rows = (count: number): string =>
  `Name,Client,Since\n${Array.from({ length: count }, (_, i) => `Thing ${i},Client ${i % 7},2026-01-0${1 + (i % 9)}`).join("\n")}\n`;

it("what nobody came back to is swept: the file, and the import with it; what is done, or new, stays", async () => {
  const file = portal();
  const old = await begin(file, rows(3));
  const done = await checked(file, await begin(file, rows(3)));
  expect((await bringInImport(file, owner, done.id)).ok).toBe(true);
  writeFileSync(importPath("00000000-0000-7000-8000-00000000000a", "csv"), "nobody's");
  sweepImports([file], Date.parse("2000-01-01"));
  expect([importJob(file, owner, old.id)!.state, existsSync(importPath(old.id, "csv"))]).toEqual(["received", true]);
  sweepImports([file], Date.now() + 1000);
  expect([importJob(file, owner, old.id)!.state, importJob(file, owner, done.id)!.state]).toEqual(["given up", "done"]);
  expect(readdirSync(join(folder, "imports")).filter((f) => [old.id, done.id, "00000000"].some((id) => f.startsWith(id)))).toEqual([]);
});

describe("analysis", () => {
  it("guesses types from all rows, not the first ones", async () => {
    const lines = Array.from(
      { length: 40 },
      (_, i) => `${i},${i % 3 ? "Yes" : "no"},£${i}.50,${1 + (i % 28)}/02/2026,${i < 39 ? i : "n/a"},${["Red", "Blue"][i % 2]},00${i}`,
    );
    const { analysis } = await begin(portal(), `Id,Ok,Price,When,Almost,Colour,Code\n${lines.join("\n")}`);
    expect(analysis.columns.map((c) => c.type)).toEqual(["number", "yes-no", "money", "date", "text", "choice", "text"]);
    expect(analysis.columns[3]!.dateOrder).toBe("day-first");
    expect(analysis.columns[5]!.choices).toEqual(["Blue", "Red"]);
  });
  it("a quote that is never closed fills neither memory nor page: the answer says where it was opened", async () => {
    const begun = await beginImport(
      portal(),
      owner,
      "t.csv",
      new Blob([
        'Name,Note\n1,"',
        ..."x"
          .repeat(200)
          .split("")
          .map(() => "y".repeat(50_000)),
      ]).stream(),
    );
    expect(begun).toMatchObject({ ok: false, error: expect.stringContaining("opened on line 2 is never closed") });
    const file = portal();
    const giant = await begin(file, `Name,Note\n1,"${"z\n".repeat(300_000)}"\n2,fine\n`);
    expect(JSON.stringify(giant.analysis).length).toBeLessThan(2_000);
    const { result } = await checked(file, giant);
    expect(result).toMatchObject({ good: 1, bad: 1, problems: [{ line: 2, reason: expect.stringContaining("far too long") }] });
  });
  it("reads Windows-1252 where it is not UTF-8, and says so", async () => {
    const { analysis } = await begin(portal(), new Uint8Array([...Buffer.from("Name,Town\nCaf"), 0xe9, ...Buffer.from(",X\n")]));
    expect([analysis.encoding, analysis.sample[0]]).toEqual(["windows-1252", ["Café", "X"]]);
  });
});

describe("bringing in", () => {
  it("is whole: table, companies, rows, and the draft's wall; nothing is open", async () => {
    const file = portal();
    const job = await checked(file, await begin(file, rows(100)), { company: 1 });
    expect([job.state, job.result!.good, job.result!.adds[0]!.count]).toEqual(["checked", 100, 7]);
    expect(countOf(file, "t_companies")).toBe(0); // nothing before it is brought in
    const done = await bringInImport(file, owner, job.id);
    expect(done).toEqual({ ok: true, value: { table: "things", rows: 100, added: 100, changed: 0 } });
    const table = schemaOf(file).tableBySlug("things")!;
    expect([countOf(file, table.id), countOf(file, "t_companies")]).toEqual([100, 7]);
    expect(draftOf(file, owner).definition.walls[table.id]).toEqual({
      kind: "owned",
      path: [table.fields.find((f) => f.slug === "client")!.id],
    });
    expect(draftOf(file, owner).definition.grants).toEqual([]);
    expect((await bringInImport(file, owner, job.id)).ok).toBe(false); // once only
  });

  it("choices of a new field keep their words, whatever signs are in them", async () => {
    const file = portal();
    const words = ["Oak, oiled", '2" pipe', "it's $.new", "C:\\paint"];
    const csv = `Name,Finish\n${Array.from({ length: 40 }, (_, i) => `Thing ${i},"${words[i % 4]!.replaceAll('"', '""')}"`).join("\n")}\n`;
    const job = await checked(file, await begin(file, csv), {});
    expect(await bringInImport(file, owner, job.id)).toMatchObject({ ok: true, value: { rows: 40 } });
    const finish = schemaOf(file)
      .tableBySlug("things")!
      .fields.find((f) => f.slug === "finish")!;
    if (finish.type !== "choice") throw new Error(`It was taken for ${finish.type}.`);
    const stored = file.db.prepare(`SELECT DISTINCT "${finish.id}" FROM "${finish.tableId}"`).pluck().all();
    const ids = new Map(finish.options.choices.map((c) => [c.id, c.name]));
    expect(stored.map((id) => ids.get(id as string)).sort()).toEqual([...words].sort());
  });

  it("into an existing table: fields by name, unknown relations refused by line", async () => {
    const file = portal();
    await bringInImport(file, owner, (await checked(file, await begin(file, rows(3)), { company: 1 })).id);
    const table = schemaOf(file).tableBySlug("things")!;
    const [name, client] = ["name", "client"].map((s) => table.fields.find((f) => f.slug === s)!.id);
    const second = await begin(file, 'Name,Client\nA,client 0\n"B\nb",Nobody\nC,\n');
    const job = await checked(file, second, {
      table: { id: table.id },
      whose: { kind: "as-is" },
      columns: [toField(name!), toField(client!)],
    });
    expect(job.result!.problems).toEqual([
      { line: 3, column: "Client", reason: "There is no “Nobody” to point to." },
      { line: 5, column: "Client", reason: "It names no company." },
    ]);
    expect(await bringInImport(file, owner, job.id)).toEqual({ ok: true, value: { table: "things", rows: 1, added: 1, changed: 0 } });
    // Refused rows can be had back with their cells, after the rest is in too.
    expect([...badRows(job.id)].map((r) => [r.line, r.cells])).toEqual([
      [3, ["B\nb", "Nobody"]],
      [5, ["C", ""]],
    ]);
  });

  it("with the disk full says so, leaves nothing half done and no damage; with room it goes through", async () => {
    const file = portal();
    const job = await checked(file, await begin(file, rows(20_000)), { company: 1 });
    // SQLite's own limit on the file raises the very error of a full disk (SQLITE_FULL).
    const pages = file.db.pragma("page_count", { simple: true }) as number;
    file.db.pragma(`max_page_count = ${pages + 50}`);
    const done = await bringInImport(file, owner, job.id);
    expect(done).toEqual({
      ok: false,
      error: "The disk is full. Nothing was imported and nothing is damaged; make room and bring it in again.",
    });
    expect([schemaOf(file).tableBySlug("things"), countOf(file, "t_companies")]).toEqual([undefined, 0]);
    expect(file.db.pragma("integrity_check", { simple: true })).toBe("ok");
    file.db.pragma("max_page_count = 1073741823");
    expect(await bringInImport(file, owner, job.id)).toEqual({
      ok: true,
      value: { table: "things", rows: 20_000, added: 20_000, changed: 0 },
    });
  });

  it("a check that a killed process had begun is done by the next one, without being asked for again", async () => {
    const file = portal();
    const job = await begin(file, rows(10));
    const plan = planOf({ columns: ["Name", "Client", "Since"].map(textColumn) });
    await runner.stop(); // nobody works on it
    expect(startCheck(file, owner, job.id, plan).ok).toBe(true);
    claim(file, [CHECK], Date.now()); // somebody had begun, and is gone
    expect(importJob(file, owner, job.id)!.state).toBe("checking");
    releaseLeases(file, Date.now() - 1);
    runner = new Runner({ [CHECK]: work });
    runner.wake(file);
    while (importJob(file, owner, job.id)!.state === "checking") await new Promise((r) => setTimeout(r, 5));
    expect(importJob(file, owner, job.id)).toMatchObject({ state: "checked", result: { good: 10, bad: 0 } });
  });
});

it("a file that is no table is refused and not kept", async () => {
  const begun = await beginImport(portal(), owner, "x.csv", new Blob([Buffer.from("%PDF-1.7\n%âãÏÓ\n")]).stream());
  expect(begun).toEqual({ ok: false, error: "This is a PDF file, whatever its name says. Save the table as XLSX or CSV and drop that." });
});

it("90 days after it came in an import is not taken back any more, and what that took is gone", async () => {
  const file = portal();
  const job = await begin(file, rows(20));
  await checked(file, job);
  expect(await bringInImport(file, owner, job.id)).toMatchObject({ ok: true });
  const held = (): unknown => file.db.prepare("SELECT count(*) FROM sys_import_rows WHERE import_id = ?").pluck().get(job.id);
  const doneAt = importJob(file, owner, job.id)!.doneAt!;
  sweepImportRows(file, doneAt);
  expect(held()).toBe(20);
  sweepImportRows(file, new Date(Date.parse(doneAt) + 1).toISOString());
  expect(held()).toBe(0);
  expect(countOf(file, schemaOf(file).tableBySlug("t")?.id ?? schemaOf(file).tables.at(-1)!.id)).toBe(20);
  expect(await takeBackImport(file, owner, job.id, false)).toMatchObject({ ok: false, error: expect.stringContaining("over 90 days") });
});
