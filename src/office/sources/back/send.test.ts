/** What goes back to another system: what people changed, in order, until it arrives; where both changed the same, by the rule. */
import { beforeEach, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { err, ok } from "@/core/result";
import type { ImportJob } from "@/data/imports/jobs";
import { seal } from "@/identity/secrets/secrets";
import { later, never, type SourceAdapter, type SourceTrouble, type SourceWrite } from "@/services/sources/contract";
import { ImportTrial, importFolder, owner } from "@/testing/import-folder";
import { addFeed, adopt, type Feed, feedById, fetched, pauseFeed, type Rule, runsOf, setFeed } from "../feeds";
import type { Reading } from "../first";
import { readFeed } from "../run";
import { endedSends, openSends, openSendsOf } from "./queue";
import { sendDue } from "./send";
import { fieldsOut, outgoing, setOut, settle } from "./ways";

importFolder();

const HEADER = ["id", "name", "city", "phone"];
let t: ImportTrial;
let now: number;
let told: string[];
/** The other system's rows by key, and when each was last changed there. */
let rows: Map<string, Record<string, string>>;
let changedAt: number | null;
let down: SourceTrouble | null;
/** Whether the process ends between a write there and the note of it here. */
let killed = false;
let writes: SourceWrite[];

const adapter: SourceAdapter = {
  name: "Test",
  about: "",
  fields: [],
  objects: async () => ok([]),
  read: async () => {
    if (down) return err(down);
    const all = [...rows.values()].map((r) => HEADER.map((c) => r[c] ?? ""));
    async function* pieces() {
      yield all;
    }
    return ok({ fileName: "clients.csv", header: HEADER, pieces: pieces(), key: "id", whole: true, end: () => ({ mark: null, gone: [] }) });
  },
  write: async (_s, _o, w) => {
    writes.push(w);
    if (down) return err(down);
    const key = w.key ?? `N-${rows.size + 1}`;
    const was = rows.get(key);
    if (w.key !== null && !was) return ok({ kind: "gone" });
    const differs = w.seen && Object.keys(w.values).some((c) => (was![c] ?? "") !== w.seen![c] && was![c] !== w.values[c]);
    if (differs) return ok({ kind: "differs", row: was!, changedAt });
    const row = { ...was, ...w.values, id: key };
    rows.set(key, row);
    if (killed) throw new Error("killed");
    return ok({ kind: "written", key, row });
  },
};
const reading: Reading = {
  adapter: () => adapter,
  owner: () => ({ ...owner, now }) as Owner,
  tellStaff: (_, __, ___, why) => void told.push(why),
  sendFirst: (file) => sendDue(file, reading),
  now: () => now,
};
const send = (): Promise<void> => sendDue(t.file, reading);

beforeEach(() => {
  t = new ImportTrial();
  now = owner.now;
  [told, writes, down, changedAt] = [[], [], null, null];
  rows = new Map(
    [
      ["C-1", "Anvil", "Harbour", "1"],
      ["C-2", "Bellows", "Moor", "2"],
    ].map((r) => [r[0]!, Object.fromEntries(HEADER.map((c, i) => [c, r[i]!]))]),
  );
});

const field = (name: string): string => t.field("clients-x", name);
const idOf = (name: string): string => t.named("clients-x", name).id;
const change = (id: string, values: Record<string, string>): void => {
  const given = Object.fromEntries(Object.entries(values).map(([f, v]) => [field(f), v]));
  const done = t.desk.change(t.table("clients-x"), id, given, null);
  if (!done.ok) throw new Error(JSON.stringify(done.error));
};
const here = (id: string): string[] => HEADER.slice(1).map((f) => String(t.desk.read(t.table("clients-x"), id)!.fields[field(f)] ?? ""));
const there = (key: string): unknown[] => HEADER.slice(1).map((c) => rows.get(key)![c] ?? "");
async function read(f: Feed): Promise<void> {
  await readFeed(t.file, f.id, true, reading);
}

/** Brought in, read once, and name, city and phone go back. */
async function feed(rule: Rule = "ask", makes = false): Promise<Feed> {
  t.file.db
    .prepare("INSERT INTO sys_sources (id, name, kind, settings, secret, made_at) VALUES ('s', 'Records', 'ledger', '{}', ?, 0)")
    .run(seal(t.file.id, "source", "{}"));
  const csv = [HEADER, ...[...rows.values()].map((r) => HEADER.map((c) => r[c]!))].map((r) => r.join(",")).join("\n");
  const { job, done } = await t.bring(csv, (j) => ({ ...t.suggest(j), table: { name: "Clients x" }, whose: { kind: "agency" } }));
  expect(done.ok).toBe(true);
  const id = addFeed(t.file, "s", { id: "clients", name: "clients" });
  fetched(t.file, id, job.id, "id");
  const f = adopt(t.file, owner, feedById(t.file, id)!);
  expect(setFeed(t.file, owner, id, { every: null, gone: "leave", key: f.plan!.key! }).ok).toBe(true);
  await read(f);
  expect(runsOf(t.file, id)[0]).toMatchObject({ state: "done", same: 2 });
  const ways = Object.fromEntries(["name", "city", "phone"].map((x) => [field(x), "both" as const]));
  expect(setOut(t.file, owner, id, { ways, makes, rule })).toEqual({ ok: true, value: null });
  return feedById(t.file, id)!;
}

it("what is changed here arrives there, several changes of a record as one, and what comes in goes back to nobody", async () => {
  const f = await feed();
  const id = idOf("Anvil");
  change(id, { city: "Moor" });
  change(id, { city: "Fell", phone: "11" });
  await send();
  expect([there("C-1"), writes.length, openSends(t.file, f.id)]).toEqual([["Anvil", "Fell", "11"], 1, []]);
  expect(Object.keys(writes[0]!.values)).toEqual(["city", "phone"]);
  rows.get("C-2")!.name = "Big bellows";
  await read(f);
  await send();
  expect([idOf("Big bellows") !== "", writes.length]).toEqual([true, 1]);
  expect(fieldsOut(t.file, owner, t.table("clients-x").id).get(field("city"))).toEqual(["Records"]);
});

it("a record made here is made there once, and is known by its key from then on", async () => {
  const f = await feed("ask", true);
  const made = t.desk.add(t.table("clients-x"), { [field("name")]: "Chisel", [field("city")]: "Moor" });
  if (!made.ok) throw new Error("not added");
  await send();
  expect(there("N-3")).toEqual(["Chisel", "Moor", ""]);
  expect(t.desk.read(t.table("clients-x"), made.value.id)!.fields[field("id")]).toBe("N-3");
  change(made.value.id, { phone: "3" });
  await send();
  await read(f);
  expect([there("N-3"), t.records("clients-x").length, rows.size]).toEqual([["Chisel", "Moor", "3"], 3, 3]);
  expect(new Set(writes.map((w) => w.once)).size).toBe(2);
});

it("a change that does not arrive waits, is tried with growing waits and is never lost; a reading leaves its record as it is", async () => {
  const f = await feed();
  const id = idOf("Anvil");
  down = later("records.example answered 503.", 3_600_000);
  change(id, { city: "Fell" });
  await send();
  expect(openSendsOf(t.file, id)).toMatchObject([
    { state: "waiting", tries: 1, message: "records.example answered 503.", nextAt: now + 3_600_000 },
  ]);
  down = null;
  // Not before the other system asked for.
  await send();
  expect(writes.length).toBe(1);
  rows.get("C-1")!.phone = "9";
  await read(f);
  expect([here(id), runsOf(t.file, f.id)[0]!.state]).toEqual([["Anvil", "Fell", "1"], "done"]);
  now += 3_600_000;
  await send();
  await read(f);
  expect([here(id), there("C-1")]).toEqual([
    ["Anvil", "Fell", "9"],
    ["Anvil", "Fell", "9"],
  ]);
  down = never("records.example refuses it: too long.");
  change(id, { city: "x" });
  await send();
  expect([told.length, told[0]]).toEqual([1, expect.stringContaining("refuses it")]);
  // Paused, nothing goes either.
  down = null;
  pauseFeed(t.file, owner, f.id, true);
  now += 86_400_000;
  await send();
  expect(openSends(t.file, f.id).length).toBe(1);
});

it.each([
  ["ours", null, ["Anvil", "Ours", "11"], "ours"],
  ["theirs", null, ["Anvil", "Theirs", "11"], "theirs"],
  ["later", 1, ["Anvil", "Theirs", "11"], "theirs"],
  ["later", -1, ["Anvil", "Ours", "11"], "ours"],
] as const)(
  "where both changed the same, %s stays (%s), what else changed goes, and both values are kept",
  async (rule, after, result, outcome) => {
    const f = await feed(rule);
    const id = idOf("Anvil");
    change(id, { city: "Ours", phone: "11" });
    rows.get("C-1")!.city = "Theirs";
    changedAt = after === null ? null : now + after;
    await send();
    await read(f);
    expect([here(id), there("C-1")]).toEqual([result, result]);
    expect(endedSends(t.file, f.id)[0]).toMatchObject({ state: "sent", outcome, ours: { city: "Ours" }, theirs: { city: "Theirs" } });
  },
);

it.each(["ours", "theirs"] as const)(
  "an owner who is asked says that %s stays; until then neither is touched, and later changes wait",
  async (stays) => {
    const f = await feed("later"); // which nobody can tell here
    const id = idOf("Anvil");
    change(id, { city: "Ours" });
    rows.get("C-1")!.city = "Theirs";
    await send();
    change(id, { phone: "12" });
    await read(f);
    expect([here(id), there("C-1")]).toEqual([
      ["Anvil", "Ours", "12"],
      ["Anvil", "Theirs", "1"],
    ]);
    const [asked] = openSends(t.file, f.id);
    expect([asked!.state, told.length]).toEqual(["asked", 1]);
    expect(settle(t.file, owner, asked!.n, stays)).toBe(true);
    expect(settle(t.file, owner, asked!.n, stays)).toBe(false);
    await send();
    await read(f);
    const city = stays === "ours" ? "Ours" : "Theirs";
    expect([here(id), there("C-1"), openSends(t.file, f.id)]).toEqual([["Anvil", city, "12"], ["Anvil", city, "12"], []]);
  },
);

it("readings while a change waits write nothing into its record, and nobody is told the same twice", async () => {
  const f = await feed();
  down = never("records.example refuses it: too long.");
  const [one, two] = [idOf("Anvil"), idOf("Bellows")];
  change(one, { city: "A" });
  change(one, { city: "B" });
  change(two, { city: "C" });
  await send();
  expect(told.length).toBe(1);
  down = null;
  rows.get("C-2")!.phone = "9";
  const events = (): unknown => t.file.db.prepare("SELECT count(*) FROM sys_events WHERE record_id = ?").pluck().get(one);
  const before = events();
  await read(f);
  expect([here(one)[1], events()]).toEqual(["B", before]);
});

it("what the owner decides about one value writes over no other that was changed there meanwhile", async () => {
  const f = await feed();
  const id = idOf("Anvil");
  change(id, { city: "Ours" });
  rows.get("C-1")!.city = "Theirs";
  await send();
  change(id, { phone: "12" });
  rows.get("C-1")!.phone = "99";
  const [asked] = openSends(t.file, f.id);
  settle(t.file, owner, asked!.n, "ours");
  await send();
  expect([there("C-1")[2], openSends(t.file, f.id).map((s) => s.state)]).toEqual(["99", ["asked", "asked"]]);
});

it("goes nowhere where it cannot: a row that is gone there, a field that is not the feed's, a key that is not the other system's", async () => {
  const f = await feed();
  const id = idOf("Anvil");
  rows.delete("C-1");
  change(id, { city: "Fell" });
  await send();
  expect(endedSends(t.file, f.id)[0]).toMatchObject({ state: "dropped", message: "Its row is not there any more." });
  expect(setOut(t.file, owner, f.id, { ways: { never: "both" }, makes: false, rule: "ask" }).ok).toBe(false);
  expect(setOut(t.file, owner, f.id, { ways: { [field("id")]: "both" }, makes: false, rule: "ask" }).ok).toBe(false);
  const name = f.plan!.columns.findIndex((c) => c.to === "field" && c.field === field("name"));
  setFeed(t.file, owner, f.id, { every: null, gone: "leave", key: name });
  const can = outgoing(t.file, feedById(t.file, f.id)!);
  expect(can.ok ? "" : can.error).toContain("Choose “id”");
});

it("a system that does not answer is asked once for all that waits; when it answers again, all of it goes", async () => {
  const f = await feed();
  down = later("records.example could not be reached.");
  change(idOf("Anvil"), { city: "Fell" });
  change(idOf("Bellows"), { city: "Fell" });
  await send();
  expect(writes.length).toBe(1);
  now += 20_000;
  await send();
  // The other record's turn, and a longer wait for both.
  expect([writes.map((w) => w.key), openSends(t.file, f.id).map((s) => s.nextAt - now)]).toEqual([
    ["C-1", "C-2"],
    [60_000, 60_000],
  ]);
  down = null;
  now += 60_000;
  await send();
  expect([there("C-1")[1], there("C-2")[1], openSends(t.file, f.id)]).toEqual(["Fell", "Fell", []]);
});

it("a row that may have been made before it was noted is looked for among those that are nobody's", async () => {
  await feed("ask", true);
  expect(t.desk.add(t.table("clients-x"), { [field("name")]: "Chisel" }).ok).toBe(true);
  killed = true;
  await expect(send()).rejects.toThrow("killed");
  killed = false;
  expect(writes.map((w) => w.isOthers)).toEqual([null]);
  await send();
  const { isOthers, once } = writes.at(-1)!;
  expect([isOthers!("C-1"), isOthers!("N-3"), once]).toEqual([true, false, writes[0]!.once]);
});

it("rows of a file that is brought in by hand go there; those of a reading do not", async () => {
  await feed("ask", true);
  const csv = "id,name,city,phone\nC-1,Anvil,Fell,1\nC-2,Bellows,Moor,2\nC-9,Chisel,Moor,3";
  const plan = (j: ImportJob): ImportPlan => ({ ...t.suggest(j), table: { id: t.table("clients-x").id }, key: 0 });
  expect((await t.bring(csv, plan)).done).toMatchObject({ ok: true, value: { added: 1, changed: 1 } });
  await send();
  expect(writes.map((w) => [w.key, w.values])).toEqual([
    ["C-1", { city: "Fell" }],
    [null, { name: "Chisel", city: "Moor", phone: "3" }],
  ]);
  expect([there("C-1")[1], there("N-3")[0]]).toEqual(["Fell", "Chisel"]);
});
