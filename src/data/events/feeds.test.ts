/** Who hears of events: in the same transaction, of their kinds alone, and never nobody by mistake. */
import { afterEach, expect, it } from "vitest";
import type { Event } from "@/core/events/event";
import { testPortal } from "@/testing/portal";
import { once } from "../file/per-process";
import { transact } from "../file/transact";
import { setFeeds } from "./feeds";
import { lastEvent, record } from "./record";

const own = once("feeds of events", () => ({ feeds: null as unknown }));
const usual = own.feeds;
afterEach(() => void (own.feeds = usual));

const event = (kind: Event["kind"], told?: Event["told"]): Event => ({
  actor: { kind: "system", id: "test" },
  via: "job",
  at: 1_780_000_000_000,
  kind,
  ...(told ? { told } : {}),
});

it("each hears of its kinds alone, with the event's number, within the transaction of the act", () => {
  const { file } = testPortal({ grants: [] });
  const heard: [string, number, boolean][] = [];
  setFeeds([
    { kinds: ["published", "reshaped"], hear: (f, e, id) => void heard.push([`one ${e.kind}`, id, f.db.inTransaction]) },
    { kinds: ["published"], hear: (f, e, id) => void heard.push([`two ${e.kind}`, id, f.db.inTransaction]) },
  ]);
  const [published, reshaped] = transact(file, () => [record(file, event("published")), record(file, event("reshaped"))] as const);
  record(file, event("imported"));
  record(file, event("act:published"));
  expect(heard).toEqual([
    ["one published", published, true],
    ["two published", published, true],
    ["one reshaped", reshaped, true],
  ]);
});

it("who cannot hear of it stops the act: neither the event nor what went with it stays", () => {
  const { file } = testPortal({ grants: [] });
  const before = lastEvent(file);
  setFeeds([
    {
      kinds: ["published"],
      hear: () => {
        throw new Error("no room");
      },
    },
  ]);
  expect(() => transact(file, () => record(file, event("published")))).toThrow("no room");
  expect(lastEvent(file)).toBe(before);
});

it("a process that has not said who hears records nothing", () => {
  const { file } = testPortal({ grants: [] });
  const before = lastEvent(file);
  own.feeds = null;
  expect(() => transact(file, () => record(file, event("published")))).toThrow("setFeeds");
  expect(lastEvent(file)).toBe(before);
});

it("what a letter says is not stored with its event", () => {
  const { file } = testPortal({ grants: [] });
  const id = record(file, event("subscription-changed", { note: "Only in the letter" }));
  const row = file.db
    .prepare("SELECT * FROM sys_events LEFT JOIN sys_event_values ON event_id = sys_events.id WHERE sys_events.id = ?")
    .get(id);
  expect(JSON.stringify(row)).not.toContain("Only in the letter");
});
