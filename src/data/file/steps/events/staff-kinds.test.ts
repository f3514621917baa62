/** A log of what staff did, in sentences, opened by a version that knows kinds. */
import Database from "better-sqlite3";
import { expect, it } from "vitest";
import { STAFF_KINDS, staffWords } from "@/core/events/staff-kinds";
import { CONTROL, migrate } from "../../migrations";
import { staffKinds } from "./staff-kinds";

it("sentences become kinds that are said in the same words; what nobody knows stays as it is", () => {
  const db = new Database(":memory:");
  migrate(db, CONTROL.slice(0, CONTROL.indexOf(staffKinds)));
  const add = db.prepare("INSERT INTO staff_events (at, by_id, act, detail) VALUES (1, 'somebody', ?, 'as it was')");
  const sentences = [...Object.values(STAFF_KINDS), "made tea"];
  for (const s of sentences) add.run(s);
  migrate(db, CONTROL);
  const now = db.prepare("SELECT act, detail FROM staff_events ORDER BY id").raw().all() as [string, string][];
  expect(now.map(([act]) => act)).toEqual([...Object.keys(STAFF_KINDS), "made tea"]);
  expect(now.map(([act]) => staffWords(act))).toEqual(sentences);
  expect(now.every(([, detail]) => detail === "as it was")).toBe(true);
});
