/** What staff did was recorded by a sentence; from here on by its kind. A sentence that no version had stays as it is. */
import type Database from "better-sqlite3";

const KINDS: Readonly<Record<string, string>> = {
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
};

export function staffKinds(db: Database.Database): void {
  const change = db.prepare("UPDATE staff_events SET act = ? WHERE act = ?");
  for (const [sentence, kind] of Object.entries(KINDS)) change.run(kind, sentence);
}
