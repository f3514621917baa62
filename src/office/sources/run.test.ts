/** Readings of another system: what comes in, what changes, what is lacking, and what stops it before anything is broken. */
import { beforeEach, describe, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { err, ok } from "@/core/result";
import { fatesOf } from "@/data/imports/fates";
import { importJob } from "@/data/imports/jobs";
import { seal } from "@/identity/secrets/secrets";
import { later, never, type SourceTrouble } from "@/services/sources/contract";
import { ImportTrial, importFolder, owner } from "@/testing/import-folder";
import { addFeed, adopt, dropFeed, type Feed, feedById, fetched, pauseFeed, readNow, runsOf, setFeed } from "./feeds";
import type { Reading } from "./first";
import { readFeed } from "./run";
import { dropSource, settingsFor, sourceById, sourcesOf } from "./sources";

importFolder();

let t: ImportTrial;
/** What the other system has, or why it gives nothing. */
let there: string | SourceTrouble;
let now: number;
let told: string[];
const reading: Reading = {
  adapter: () => ({
    name: "Test",
    about: "",
    fields: [],
    objects: async () => ok([]),
    read: async () => (typeof there === "string" ? ok({ fileName: "things.csv", body: new Blob([there]).stream() }) : err(there)),
  }),
  owner: () => ({ ...owner, now }) as Owner,
  sendFirst: async () => {},
  tellStaff: (_, __, ___, why) => void told.push(why),
  now: () => now,
};
const MINUTE = 60_000;

beforeEach(() => {
  t = new ImportTrial();
  now = owner.now;
  told = [];
});

const csv = (rows: readonly (readonly string[])[], header = ["Number", "Name", "City"]): string =>
  [header, ...rows].map((r) => r.join(",")).join("\n");
const ROWS = [
  ["T-1", "Anvil", "Harbour"],
  ["T-2", "Bellows", "Moor"],
  ["T-3", "Chisel", "Moor"],
];

/** Brought in once by hand, and read every hour from then on. */
async function feed(gone: "leave" | "remove" = "leave", text = csv(ROWS)): Promise<Feed> {
  t.file.db
    .prepare("INSERT INTO sys_sources (id, name, kind, settings, secret, made_at) VALUES ('s', 'Records', 'address', '{}', ?, 0)")
    .run(seal(t.file.id, "source", "{}"));
  const { job, done } = await t.bring(text, (j) => ({ ...t.suggest(j), whose: { kind: "agency" } }));
  expect(done.ok).toBe(true);
  const id = addFeed(t.file, "s", { id: "table", name: "things.csv" });
  fetched(t.file, id, job.id, null);
  const adopted = adopt(t.file, owner, feedById(t.file, id)!);
  expect(setFeed(t.file, owner, id, { every: 60, gone, key: adopted.plan!.key! }).ok).toBe(true);
  return feedById(t.file, id)!;
}
const names = (): unknown[] =>
  t
    .records("things")
    .map((r) => r.fields[t.field("things", "name")])
    .sort();
const last = (f: Feed) => runsOf(t.file, f.id)[0]!;
async function read(f: Feed, what: string | SourceTrouble): Promise<void> {
  there = what;
  await readFeed(t.file, f.id, true, reading);
}

describe("a reading", () => {
  it("is known by its number, brings in what is new and changed, and nothing where nothing is", async () => {
    const f = await feed();
    expect(f.plan!.columns[f.plan!.key!]).toMatchObject({ to: "field", field: t.field("things", "number") });
    await read(
      f,
      csv([
        ["T-1", "Anvil", "Harbour"],
        ["T-2", "Big bellows", "Moor"],
        ["T-3", "Chisel", "Moor"],
        ["T-4", "Drill", "Moor"],
      ]),
    );
    expect(last(f)).toMatchObject({ state: "done", added: 1, changed: 1, same: 2, bad: 0, message: null });
    expect(names()).toEqual(["Anvil", "Big bellows", "Chisel", "Drill"]);
    const events = t.file.db.prepare("SELECT count(*) FROM sys_events").pluck().get();
    await read(f, there as string);
    expect(last(f)).toMatchObject({ state: "done", added: 0, changed: 0, same: 4 });
    expect(t.file.db.prepare("SELECT count(*) FROM sys_events").pluck().get()).toBe(events);
  });
  it("tells the fate of each row: added, changed from what to what, removed, and why one is not in", async () => {
    const f = await feed("remove");
    await read(
      f,
      csv([
        ["T-1", "Anvil", "Fell"],
        ["T-3", "Chisel", "Moor"],
        ["T-9", "", "Moor"],
        ["T-4", "Drill", "Moor"],
      ]),
    );
    const table = t.table("things");
    const label = (id: string) => t.desk.labelOf(table, id);
    const told = fatesOf(t.file, owner, f.tableId, last(f), undefined);
    // A row with a problem keeps the record that is lacking: it may be its own.
    expect(told.list.map((x) => [x.became, label(x.record), x.changes.map((c) => [c.field.slug, c.before, c.now])])).toEqual([
      ["changed", "Anvil", [["city", "Harbour", "Fell"]]],
      ["added", "Drill", []],
    ]);
    expect(told.problems).toMatchObject([{ line: 4, column: "Name" }]);
    await read(
      f,
      csv([
        ["T-1", "Anvil", "Fell"],
        ["T-4", "Drill", "Moor"],
        ["T-3", "Chisel", "Moor"],
      ]),
    );
    expect(fatesOf(t.file, owner, f.tableId, last(f), "1").list.map((x) => [x.became, x.isThere])).toEqual([["removed", false]]);
    expect(fatesOf(t.file, owner, f.tableId, last(f), "7")).toMatchObject({ page: 1, pages: 1, total: 1, problems: [] });
  });
  it("goes by the names of columns: in another order, and with new ones, it comes in as before", async () => {
    const f = await feed();
    await read(f, csv([["Moor", "note", "Anvil of iron", "T-1"]], ["City", "More", "Name", "Number"]));
    expect(last(f)).toMatchObject({ state: "done", changed: 1 });
    const anvil = t.named("things", "Anvil of iron");
    expect(anvil.fields[t.field("things", "city")]).toBe("Moor");
  });
  it("takes new words of a column that became choices, and keeps them out of choices that were there before", async () => {
    const rows = Array.from({ length: 12 }, (_, i) => [`T-${i}`, `Thing ${i}`, ["Asked", "Agreed"][i % 2]!]);
    const header = ["Number", "Name", "Stage"];
    const f = await feed("leave", csv(rows, header));
    const stage = t.table("things").fields.find((x) => x.slug === "stage")!;
    expect(stage.type).toBe("choice");
    await read(f, csv([...rows.slice(1), ["T-0", "Thing 0", "Lost"]], header));
    expect(last(f)).toMatchObject({ state: "done", changed: 1, bad: 0 });
    const choices = t.table("things").fields.find((x) => x.id === stage.id)!.options.choices!;
    const now = choices.find((c) => c.id === t.named("things", "Thing 0").fields[stage.id]);
    expect(JSON.stringify(now)).toContain("Lost");
    // As if the field had been there before.
    const plan = feedById(t.file, f.id)!.plan!;
    const columns = plan.columns.map((c) => (c.to === "field" ? { ...c, add: false } : c));
    t.file.db.prepare("UPDATE sys_source_feeds SET plan = ?").run(JSON.stringify({ ...plan, columns }));
    await read(f, csv([...rows.slice(1), ["T-0", "Thing 0", "Forgotten"]], header));
    expect(last(f)).toMatchObject({ state: "done", changed: 0, bad: 1 });
  });
  it("that lacks a column which is mapped stops before anything is changed, and staff are told", async () => {
    const f = await feed();
    await read(f, csv([["T-1", "Emptied"]], ["Number", "Name"]));
    expect(last(f)).toMatchObject({ state: "failed", message: expect.stringContaining("“City” is not among its columns any more") });
    expect([names(), told.length, feedById(t.file, f.id)!.pausedAt]).toEqual([["Anvil", "Bellows", "Chisel"], 1, now]);
    // Paused, it is not read.
    await read(f, csv(ROWS));
    expect(runsOf(t.file, f.id).length).toBe(1);
  });
  it("keeps good rows of a table with some wrong ones, whose file can be had", async () => {
    const f = await feed();
    await read(
      f,
      csv([
        ["T-1", "Anvil", "Harbour"],
        ["T-9", "", "Moor"],
        ["T-5", "Easel", "Moor"],
      ]),
    );
    expect(last(f)).toMatchObject({ state: "done", added: 1, bad: 1 });
    expect(importJob(t.file, owner, last(f).importId!)!.result!.problems.length).toBe(1);
  });
});

describe("records that it lacks", () => {
  it("stay, or go into the bin, as was chosen; what people made here themselves is never touched", async () => {
    const f = await feed("remove");
    const own = t.desk.add(t.table("things"), { [t.field("things", "number")]: "OWN", [t.field("things", "name")]: "Ours" });
    expect(own.ok).toBe(true);
    await read(f, csv(ROWS.slice(0, 2)));
    expect([last(f).removed, names()]).toEqual([1, ["Anvil", "Bellows", "Ours"]]);
    expect(t.file.db.prepare("SELECT label FROM sys_removed").pluck().all()).toEqual(["Chisel"]);
  });
  it("are none while some rows could not be read", async () => {
    const f = await feed("remove");
    await read(
      f,
      csv([
        ["T-1", "Anvil", "Harbour"],
        ["T-9", "", "Moor"],
      ]),
    );
    expect(last(f)).toMatchObject({ removed: 0, message: expect.stringContaining("None was removed") });
    expect(names()).toEqual(["Anvil", "Bellows", "Chisel"]);
  });
  it("are never most of them at once: it stops, and staff are told", async () => {
    const f = await feed("remove");
    const many = Array.from({ length: 60 }, (_, i) => [`M-${i}`, `Thing ${i}`, "Moor"]);
    await read(f, csv([...ROWS, ...many]));
    expect(last(f).added).toBe(60);
    await read(f, csv([...ROWS.slice(1), ["T-7", "Gauge", "Moor"]]));
    // Nor is the new row in, and nothing says that it is.
    expect(last(f)).toMatchObject({ state: "failed", added: 0, removed: 0, message: expect.stringContaining("more than half") });
    expect([t.desk.count(t.table("things")), told.length]).toEqual([63, 1]);
  });
});

describe("a source that fails", () => {
  it("is asked again at its time, and told after a day; where somebody must act it stops at once", async () => {
    const f = await feed();
    for (let hour = 0; hour < 26; hour++) {
      await read(f, later("It did not answer."));
      now += 60 * MINUTE;
    }
    expect([told.length, told[0]]).toEqual([1, "It did not answer. It has failed for a day."]);
    expect(feedById(t.file, f.id)!.nextAt).toBe(now);
    await read(f, csv(ROWS));
    expect([last(f).state, feedById(t.file, f.id)!.failingSince]).toEqual(["done", null]);
    await read(f, never("The password is wrong."));
    expect([feedById(t.file, f.id)!.pausedWhy, told.length]).toEqual(["The password is wrong.", 2]);
    expect(pauseFeed(t.file, owner, f.id, false)).toBe(true);
  });
  it("that breaks off in the middle, or sends what is no table, changes nothing", async () => {
    const f = await feed();
    const broken = new ReadableStream<Uint8Array>({
      start(c) {
        c.enqueue(new TextEncoder().encode("Number,Name,City\nT-1,Cha"));
      },
      pull() {
        throw new Error("the line is down");
      },
    });
    const breaks: Reading = {
      ...reading,
      adapter: () => ({ ...reading.adapter({} as never), read: async () => ok({ fileName: "x.csv", body: broken }) }),
    };
    await readFeed(t.file, f.id, true, breaks);
    expect(last(f)).toMatchObject({ state: "failed", message: expect.stringContaining("broke off") });
    for (const nothing of ["", "\0\0\0\0", "<html><body>Sign in</body></html>"]) {
      await read(f, nothing);
      expect([nothing, last(f).state]).toEqual([nothing, "failed"]);
      pauseFeed(t.file, owner, f.id, false);
    }
    expect(names()).toEqual(["Anvil", "Bellows", "Chisel"]);
  });
});

it("is read at its time and not before; stopped and disconnected it leaves its records, and keeps no secret", async () => {
  const f = await feed();
  there = csv([...ROWS, ["T-4", "Drill", "Moor"]]);
  await readFeed(t.file, f.id, false, reading);
  expect(runsOf(t.file, f.id)).toEqual([]);
  now += 60 * MINUTE;
  await readFeed(t.file, f.id, false, reading);
  expect(last(f)).toMatchObject({ state: "done", added: 1 });
  const jobs = t.file.db.prepare("SELECT run_at FROM sys_jobs WHERE kind = 'read source' ORDER BY run_at DESC LIMIT 1").pluck().get();
  expect(jobs).toBe(now + 60 * MINUTE);
  expect(settingsFor(t.file, sourceById(t.file, "s")!)).toEqual({});
  readNow(t.file, f.id, now);
  expect([dropFeed(t.file, owner, f.id), dropSource(t.file, owner, "s"), sourcesOf(t.file, owner)]).toEqual([true, true, []]);
  await readFeed(t.file, f.id, true, reading);
  expect(names()).toEqual(["Anvil", "Bellows", "Chisel", "Drill"]);
  expect(t.file.db.prepare("SELECT count(*) FROM sys_source_records").pluck().get()).toBe(0);
});
