/** The log to its owner's age: what is older is in a file, whole, before it leaves the portal; what must stay does. */
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { gunzipSync } from "node:zlib";
import Papa from "papaparse";
import { expect, it } from "vitest";
import { EVENT_KINDS, keptForGood } from "@/core/events/kinds";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { readLog } from "./log";
import { earlierLog, earlierLogs, keepLogFor, logAge, thinLog } from "./thin";

const folder = ownFolder();
const NOW = Date.UTC(2026, 11, 1, 3);

function world(events: readonly (readonly [at: string, kind: string, detail?: string])[]) {
  const { file, owner } = testPortal({ grants: [] });
  file.db.exec("DELETE FROM sys_event_values; DELETE FROM sys_events");
  const add = file.db.prepare("INSERT INTO sys_events (at, actor_kind, via, act, detail) VALUES (?, 'visitor', 'page', ?, ?)");
  for (const [at, kind, detail] of events) add.run(Date.parse(at), kind, detail ?? null);
  add.run(NOW, "signed-in-last", null);
  file.db.exec(`INSERT INTO sys_event_values (event_id, "before", "after") SELECT id, NULL, '{}' FROM sys_events`);
  rmSync(join(folder, "logs"), { recursive: true, force: true });
  const left = () =>
    readLog(file, owner, { limit: 10_000 })
      .filter((r) => r.kind !== "signed-in-last")
      .map((r) => r.detail);
  return { file, owner, left, logs: join(folder, "logs", file.id) };
}
const linesOf = (path: string): Record<string, string>[] =>
  Papa.parse<Record<string, string>>(gunzipSync(readFileSync(path)).toString("utf8"), { header: true, skipEmptyLines: true }).data;

it("two years unless the owner says otherwise: what is older goes to a file, in order, and out of the portal", async () => {
  const { file, owner, left, logs } = world([
    ["2024-03-01T08:00:00Z", "published", "oldest"],
    ["2024-11-30T23:59:59Z", "published", "a month too old, with a comma"],
    ["2024-12-01T00:00:00Z", "published", "of age"],
    ["2026-11-30T00:00:00Z", "published", "new"],
  ]);
  expect(logAge(file)).toBe(24);
  expect(await thinLog(file, owner, NOW)).toBe(2);
  expect(left()).toEqual(["new", "of age"]);
  expect(file.db.prepare("SELECT count(*) FROM sys_event_values").pluck().get()).toBe(3);
  const [one, ...more] = await earlierLogs(file, owner);
  expect([one?.from, one?.until, more]).toEqual(["2024-03-01", "2024-12-01", []]);
  const lines = linesOf(join(logs, one!.name));
  expect(lines.map((l) => [l["When (UTC)"], l.Act, l.Detail])).toEqual([
    ["2024-03-01T08:00:00.000Z", "published", "oldest"],
    ["2024-11-30T23:59:59.000Z", "published", "a month too old, with a comma"],
  ]);
  expect(await thinLog(file, owner, NOW)).toBe(0);
  expect(readdirSync(logs)).toEqual([one!.name]);
});

it("of very many, none is left out and none is written twice", async () => {
  const many = Array.from(
    { length: 2_345 },
    (_, i) => [new Date(Date.UTC(2023, 0, 1) + i * 60_000).toISOString(), "published", `n${i}`] as const,
  );
  const { file, owner, left } = world(many);
  expect(await thinLog(file, owner, NOW)).toBe(2_345);
  expect(left()).toEqual([]);
  const [one] = await earlierLogs(file, owner);
  expect(linesOf(join(folder, "logs", file.id, one!.name)).map((l) => l.Detail)).toEqual(many.map(([, , d]) => d));
});

it("a night that was broken off while it removed loses nothing: what it had written stays", async () => {
  const old = (detail: string) => ["2020-01-01T00:00:00Z", "published", detail] as const;
  const { file, owner, logs } = world([old("one"), old("two")]);
  await thinLog(file, owner, NOW);
  // As though the second had still been there in the morning.
  file.db
    .prepare("INSERT INTO sys_events (id, at, actor_kind, via, act, detail) VALUES (2, ?, 'visitor', 'page', 'published', 'two')")
    .run(Date.parse("2020-01-01"));
  await thinLog(file, owner, NOW);
  const details = (await earlierLogs(file, owner)).map((e) => linesOf(join(logs, e.name)).map((l) => l.Detail));
  expect(details.sort((a, b) => b.length - a.length)).toEqual([["one", "two"], ["two"]]);
});

it("money, merged records and the choice itself stay; for good keeps all", async () => {
  const stays = ["paid-back", "record-took-over", "log-age-set"];
  const { file, owner, left } = world([...stays, "published"].map((kind) => ["2020-01-01T00:00:00Z", kind, kind] as const));
  keepLogFor(file, owner, null);
  expect(await thinLog(file, owner, NOW)).toBe(0);
  keepLogFor(file, owner, 6);
  expect([logAge(file), await thinLog(file, owner, NOW)]).toEqual([6, 1]);
  expect(new Set(left())).toEqual(new Set([...stays, "for good", "6 months"]));
  expect(Object.entries(EVENT_KINDS).every(([kind, k]) => k.of !== "money" || keptForGood(kind))).toBe(true);
});

it("where the file cannot be written, nothing leaves the portal", async () => {
  const { file, owner, left, logs } = world([["2020-01-01T00:00:00Z", "published", "old"]]);
  mkdirSync(join(folder, "logs"), { recursive: true });
  writeFileSync(logs, "a file where its folder should be");
  await expect(thinLog(file, owner, NOW)).rejects.toThrow();
  expect(left()).toEqual(["old"]);
});

it("the newest event stays, however old, so that no number is given out twice", async () => {
  const { file, owner } = world([["2020-01-01T00:00:00Z", "published", "old"]]);
  file.db.prepare("UPDATE sys_events SET at = 1").run();
  const newest = (): unknown => file.db.prepare("SELECT max(id) FROM sys_events").pluck().get();
  const before = newest();
  expect(await thinLog(file, owner, NOW)).toBe(1);
  expect(newest()).toBe(before);
});

it("a name that is none of its files opens nothing", async () => {
  const { file, owner } = world([["2020-01-01T00:00:00Z", "published", "old"]]);
  await thinLog(file, owner, NOW);
  const [one] = await earlierLogs(file, owner);
  const found = await earlierLog(file, owner, one!.name);
  expect(found?.bytes).toBe(one!.bytes);
  found?.stream.destroy();
  for (const name of ["", "..", "../../elkhorn.db", `../${file.id}/${one!.name}`, "2020-01-01_2021-01-01.csv.gz", `${one!.name}/..`])
    expect(await earlierLog(file, owner, name), name).toBeNull();
});
