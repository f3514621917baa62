/** A log of what staff did, in sentences, opened by a version that knows kinds. */
import Database from "better-sqlite3";
import { expect, it } from "vitest";
import { STAFF_KINDS, staffWords } from "@/core/events/staff-kinds";
import { CONTROL, migrate } from "../../migrations";
import { staffKinds } from "./staff-kinds";

/** As versions before wrote them, whatever the kinds are called today. */
const SENTENCES = {
  "asked in": "invited",
  "took an invitation back": "invitation-withdrawn",
  "came in for the first time": "came-in",
  "gave a role": "role-given",
  "set to active": "made-active",
  "set to inactive": "made-inactive",
  "changed their password": "password-changed",
  "chose a new password by a link": "password-chosen",
  "turned a second factor on": "second-factor-on",
  "turned their second factor off": "second-factor-off",
  "took a second factor away": "second-factor-taken",
  "ten wrong codes of the second factor": "second-factor-guessed",
  "twenty wrong codes: no more are taken": "second-factor-stopped",
  "made a passkey": "passkey-made",
  "removed a passkey": "passkey-removed",
  "signed out elsewhere": "signed-out-elsewhere",
} as const;

it("each sentence becomes a kind that is known; what nobody knows stays as it is, and is said so", () => {
  const db = new Database(":memory:");
  migrate(db, CONTROL.slice(0, CONTROL.indexOf(staffKinds)));
  const add = db.prepare("INSERT INTO staff_events (at, by_id, act, detail) VALUES (1, 'somebody', ?, 'as it was')");
  const sentences = [...Object.keys(SENTENCES), "made tea"];
  for (const s of sentences) add.run(s);
  migrate(db, CONTROL);
  const now = db.prepare("SELECT act, detail FROM staff_events ORDER BY id").raw().all() as [string, string][];
  expect(now.map(([act]) => act)).toEqual([...Object.values(SENTENCES), "made tea"]);
  expect(Object.values(SENTENCES).filter((kind) => !Object.hasOwn(STAFF_KINDS, kind))).toEqual([]);
  expect(staffWords("made tea")).toBe("made tea");
  expect(now.every(([, detail]) => detail === "as it was")).toBe(true);
});
