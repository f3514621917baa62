/** The one draft of old becomes its parts: each that differs from the published version, as one step. Older steps are let go. */
import type Database from "better-sqlite3";
import { PART_NAMES, partOf, readDefinition, writePart } from "@/core/definition/definition";

export function draftInParts(db: Database.Database): void {
  const draft = db.prepare("SELECT body, revision, changed_at AS at FROM sys_draft").get() as
    | { body: string; revision: number; at: string }
    | undefined;
  const live = db.prepare("SELECT body FROM sys_definitions ORDER BY version DESC LIMIT 1").pluck().get() as string | undefined;
  db.exec(`DROP TABLE sys_draft; DROP TABLE sys_draft_steps;
   CREATE TABLE sys_draft_parts (part TEXT PRIMARY KEY, body TEXT NOT NULL, revision INTEGER NOT NULL, step INTEGER NOT NULL, changed_at TEXT NOT NULL) STRICT;
   CREATE TABLE sys_draft_steps (id INTEGER PRIMARY KEY, part TEXT NOT NULL, n INTEGER NOT NULL, body TEXT NOT NULL, what TEXT NOT NULL, at TEXT NOT NULL, gone INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_draft_steps_part ON sys_draft_steps (part, n);
   CREATE TABLE sys_draft_revisions (revision INTEGER PRIMARY KEY, part TEXT NOT NULL, step_id INTEGER NOT NULL) STRICT;`);
  if (!draft || !live) return;
  const [was, is] = [readDefinition(live), readDefinition(draft.body)];
  if (!was.ok || !is.ok) return; // a draft that cannot be read any more holds for nobody, and begins anew
  let revision = draft.revision;
  const step = db.prepare("INSERT INTO sys_draft_steps (part, n, body, what, at, gone) VALUES (?, ?, ?, ?, ?, 0)");
  const seen = db.prepare("INSERT INTO sys_draft_revisions VALUES (?, ?, ?)");
  for (const name of PART_NAMES) {
    const [before, after] = [writePart(name, partOf(was.value, name)), writePart(name, partOf(is.value, name))];
    if (before === after) continue;
    seen.run(++revision, name, step.run(name, 0, before, "", draft.at).lastInsertRowid);
    seen.run(++revision, name, step.run(name, 1, after, "earlier changes", draft.at).lastInsertRowid);
    db.prepare("INSERT INTO sys_draft_parts VALUES (?, ?, ?, 1, ?)").run(name, after, revision, draft.at);
  }
  db.prepare("UPDATE sys_meta SET value = ? WHERE key = 'draft_revision'").run(String(revision));
}
