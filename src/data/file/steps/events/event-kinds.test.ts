/** A log of sentences, opened by a version that knows kinds. */
import Database from "better-sqlite3";
import { expect, it } from "vitest";
import { EVENT_KINDS, isEventKind } from "@/core/events/kinds";
import { migrate, PORTAL } from "../../migrations";
import { eventKinds } from "./event-kinds";

const BEFORE = PORTAL.indexOf(eventKinds);

it("sentences become kinds, acts of the agency's own stay theirs, and what nobody knows stays as it is", () => {
  const db = new Database(":memory:");
  migrate(db, PORTAL.slice(0, BEFORE));
  const add = db.prepare("INSERT INTO sys_events (at, actor_kind, via, act, detail) VALUES (1, 'staff', ?, ?, ?)");
  for (const [via, act, detail] of [
    ["page", "added", null],
    ["api", "changed", null],
    ["act", "accept", "hash"],
    // The agency may call its act as a sentence of ours is called.
    ["act", "published", null],
    ["page", "set to inactive", null],
    ["page", "changed a field's type", "Size: number to text"],
    ["job", "came in by a standing link", null],
    ["page", "tidied up", null],
  ])
    add.run(via, act, detail);
  migrate(db, PORTAL);
  const now = db.prepare("SELECT act, detail FROM sys_events ORDER BY id").raw().all() as [string, string | null][];
  expect(now).toEqual([
    ["record-added", null],
    ["record-changed", null],
    ["act:accept", "hash"],
    ["act:published", null],
    ["status-set", "inactive"],
    ["field-retyped", "Size: number to text"],
    ["standing-link-used", null],
    ["tidied up", null],
  ]);
  expect(now.map(([act]) => act).filter((act) => !act.startsWith("act:") && act !== "tidied up" && !isEventKind(act))).toEqual([]);
});

it("every kind that it makes is one that is known, said by the words it had", () => {
  const db = new Database(":memory:");
  migrate(db, PORTAL.slice(0, BEFORE));
  const kinds = Object.values(EVENT_KINDS);
  const add = db.prepare("INSERT INTO sys_events (id, at, actor_kind, via, act) VALUES (?, 1, 'staff', 'page', ?)");
  kinds.forEach((k, i) => {
    add.run(i + 1, k.says);
  });
  migrate(db, PORTAL);
  const now = db.prepare("SELECT act FROM sys_events ORDER BY id").pluck().all() as string[];
  expect(now.filter((act, i) => isEventKind(act) && EVENT_KINDS[act].says !== kinds[i]!.says)).toEqual([]);
  // The sentences of that time, one for each kind: those that came later never were any.
  const made = now.filter(isEventKind);
  expect(made.length).toBeGreaterThan(80);
  expect(new Set(made).size).toBe(made.length);
});
