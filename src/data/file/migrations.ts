/** Numbered steps, as SQL or as a function where rows must be looked at; a file's `user_version` says how many it has had. A step is never edited once it has shipped: add another. */
import type Database from "better-sqlite3";
import { ACCEPTANCES } from "./steps/acceptances";
import { AWAY_RULES } from "./steps/away-rules";
import { BRAND_PICTURES } from "./steps/brand-pictures";
import { choicesAndNumbers } from "./steps/choices-and-numbers";
import { draftInParts } from "./steps/draft-in-parts";
import { eventKinds } from "./steps/events/event-kinds";
import { LOG_INDEXES } from "./steps/events/log-indexes";
import { staffKinds } from "./steps/events/staff-kinds";
import { fileSources } from "./steps/file-sources";
import { FILES } from "./steps/files";
import { FILLINGS } from "./steps/fillings";
import { KEPT_ANSWERS } from "./steps/kept-answers";
import { KEYS } from "./steps/keys";
import { labelIndexes } from "./steps/label-indexes";
import { ALLOWANCE_COUNTS } from "./steps/money/allowance-counts";
import { allowances } from "./steps/money/allowances";
import { MONEY } from "./steps/money/money";
import { ONE_CHARGE } from "./steps/money/one-charge";
import { PAGE_ADDRESSES } from "./steps/page-addresses";
import { accounts } from "./steps/people/accounts";
import { DOORS, STAFF_DOORS } from "./steps/people/doors";
import { JOINS } from "./steps/people/joins";
import { MESSAGES } from "./steps/people/messages";
import { PROVIDERS } from "./steps/people/providers";
import { SECOND_TRIES } from "./steps/people/second-tries";
import { SESSION_BESIDE } from "./steps/people/session-beside";
import { shown } from "./steps/people/shown";
import { STOPS } from "./steps/people/stops";
import { reservedAddresses } from "./steps/reserved-addresses";
import { shaping } from "./steps/shaping";
import { SOURCES, SOURCES_BACK } from "./steps/sources";
import { TALK } from "./steps/talk";
import { VIEWS } from "./steps/views";
import { WEBHOOKS } from "./steps/webhooks";

export type Step = string | ((db: Database.Database) => void);

export const CONTROL: readonly Step[] = [
  `CREATE TABLE staff (id TEXT PRIMARY KEY, email TEXT NOT NULL UNIQUE, name TEXT NOT NULL, hash TEXT NOT NULL, created_at TEXT NOT NULL) STRICT;
   CREATE TABLE staff_sessions (hash TEXT PRIMARY KEY, staff_id TEXT NOT NULL REFERENCES staff(id), created_at INTEGER NOT NULL, expires_at INTEGER NOT NULL) STRICT;
   CREATE TABLE portals (slug TEXT PRIMARY KEY, name TEXT NOT NULL, created_at TEXT NOT NULL) STRICT;
   CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
   CREATE TABLE attempts (key TEXT PRIMARY KEY, failures INTEGER NOT NULL, last_at INTEGER NOT NULL) STRICT;`,
  // A portal's id is for good, its slug an address: those that stand are called as their files are.
  `CREATE TABLE portals_2 (slug TEXT PRIMARY KEY, id TEXT NOT NULL UNIQUE, name TEXT NOT NULL, created_at TEXT NOT NULL) STRICT;
   INSERT INTO portals_2 SELECT slug, slug, name, created_at FROM portals;
   DROP TABLE portals;
   ALTER TABLE portals_2 RENAME TO portals;`,
  "CREATE TABLE tickets (hash TEXT PRIMARY KEY, portal TEXT NOT NULL, body TEXT NOT NULL, expires_at INTEGER NOT NULL) STRICT;",
  STAFF_DOORS,
  // What staff did about staff; portals have a log of their own.
  "CREATE TABLE staff_events (id INTEGER PRIMARY KEY, at INTEGER NOT NULL, by_id TEXT NOT NULL, act TEXT NOT NULL, about_id TEXT, detail TEXT NOT NULL) STRICT;",
  // A name is one portal's only once it was shown to be the agency's; until then anybody may try.
  `CREATE TABLE domains (host TEXT NOT NULL, portal TEXT NOT NULL, token TEXT NOT NULL, added_at INTEGER NOT NULL, shown_at INTEGER, shown_by TEXT, main INTEGER NOT NULL DEFAULT 0, PRIMARY KEY (host, portal)) STRICT;
   CREATE UNIQUE INDEX domains_shown ON domains (host) WHERE shown_at IS NOT NULL;
   CREATE UNIQUE INDEX domains_main ON domains (portal) WHERE main = 1;`,
  SECOND_TRIES,
  // When staff were last seen: a session ends twelve hours after that.
  "ALTER TABLE staff_sessions ADD COLUMN seen_at INTEGER NOT NULL DEFAULT 0; UPDATE staff_sessions SET seen_at = created_at;",
  "ALTER TABLE domains ADD COLUMN missed INTEGER NOT NULL DEFAULT 0;",
  staffKinds,
];

export const PORTAL: readonly Step[] = [
  `CREATE TABLE sys_meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
   CREATE TABLE sys_tables (id TEXT PRIMARY KEY, slug TEXT NOT NULL UNIQUE, name TEXT NOT NULL, singular TEXT NOT NULL, kind TEXT NOT NULL, label_field TEXT NOT NULL, position INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_fields (id TEXT PRIMARY KEY, table_id TEXT NOT NULL REFERENCES sys_tables(id), slug TEXT NOT NULL, name TEXT NOT NULL, type TEXT NOT NULL, options TEXT NOT NULL, system INTEGER NOT NULL, position INTEGER NOT NULL, UNIQUE (table_id, slug)) STRICT;
   CREATE TABLE sys_definitions (version INTEGER PRIMARY KEY, body TEXT NOT NULL, published_at TEXT NOT NULL, published_by TEXT NOT NULL) STRICT;
   CREATE TABLE sys_draft (id INTEGER PRIMARY KEY CHECK (id = 1), body TEXT NOT NULL, revision INTEGER NOT NULL, changed_at TEXT NOT NULL) STRICT;
   CREATE TABLE sys_memberships (id TEXT PRIMARY KEY, person_id TEXT NOT NULL, company_id TEXT, roles TEXT NOT NULL, created_at TEXT NOT NULL, UNIQUE (person_id, company_id)) STRICT;
   CREATE INDEX sys_memberships_company ON sys_memberships (company_id, person_id);
   CREATE TABLE sys_credentials (person_id TEXT PRIMARY KEY, hash TEXT NOT NULL, temporary INTEGER NOT NULL, changed_at TEXT NOT NULL) STRICT;
   CREATE TABLE sys_sessions (hash TEXT PRIMARY KEY, person_id TEXT NOT NULL, membership_id TEXT, created_at INTEGER NOT NULL, seen_at INTEGER NOT NULL, expires_at INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_sessions_person ON sys_sessions (person_id);
   CREATE TABLE sys_links (id TEXT PRIMARY KEY, person_id TEXT NOT NULL, purpose TEXT NOT NULL, version INTEGER NOT NULL, expires_at INTEGER NOT NULL, used_at INTEGER, UNIQUE (person_id, purpose)) STRICT;
   CREATE TABLE sys_attempts (key TEXT PRIMARY KEY, failures INTEGER NOT NULL, last_at INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_subscriptions (company_id TEXT PRIMARY KEY, plan TEXT NOT NULL, state TEXT NOT NULL, until TEXT) STRICT;
   CREATE TABLE sys_audit (id INTEGER PRIMARY KEY, at TEXT NOT NULL, actor TEXT NOT NULL, act TEXT NOT NULL, table_id TEXT, record_id TEXT, detail TEXT) STRICT;
   CREATE TABLE sys_removed (record_id TEXT PRIMARY KEY, table_id TEXT NOT NULL, body TEXT NOT NULL, at TEXT NOT NULL) STRICT;
   CREATE TABLE sys_imports (id TEXT PRIMARY KEY, file_name TEXT NOT NULL, state TEXT NOT NULL, plan TEXT, total INTEGER NOT NULL, good INTEGER NOT NULL, bad INTEGER NOT NULL, message TEXT, table_id TEXT, created_at TEXT NOT NULL) STRICT;`,
  `ALTER TABLE sys_definitions ADD COLUMN note TEXT NOT NULL DEFAULT '';
   CREATE TABLE sys_draft_steps (n INTEGER PRIMARY KEY, body TEXT NOT NULL, what TEXT NOT NULL, at TEXT NOT NULL) STRICT;
   ALTER TABLE sys_draft ADD COLUMN step INTEGER NOT NULL DEFAULT 0;`,
  choicesAndNumbers,
  `CREATE TABLE sys_events (id INTEGER PRIMARY KEY, at INTEGER NOT NULL, actor_kind TEXT NOT NULL, actor_id TEXT, via TEXT NOT NULL, act TEXT NOT NULL, table_id TEXT, record_id TEXT, company_id TEXT, detail TEXT, cause INTEGER) STRICT;
   CREATE TABLE sys_event_values (event_id INTEGER PRIMARY KEY REFERENCES sys_events(id), "before" TEXT, "after" TEXT) STRICT;
   INSERT INTO sys_events SELECT id, CAST(round(unixepoch(at, 'subsec') * 1000) AS INTEGER),
     CASE WHEN actor = 'visitor' THEN 'visitor' WHEN actor IN (SELECT person_id FROM sys_memberships) THEN 'person' ELSE 'staff' END,
     CASE WHEN actor IN ('visitor', 'owner') THEN NULL ELSE actor END, 'page', act, table_id, record_id, NULL, detail, NULL FROM sys_audit;
   DROP TABLE sys_audit;
   CREATE INDEX sys_events_record ON sys_events (record_id, id);
   ALTER TABLE sys_subscriptions ADD COLUMN time_zone TEXT NOT NULL DEFAULT 'UTC';
   UPDATE sys_subscriptions SET time_zone = coalesce((SELECT json_extract(body, '$.portal.timeZone') FROM sys_definitions ORDER BY version DESC LIMIT 1), 'UTC');`,
  draftInParts,
  reservedAddresses,
  `CREATE TABLE sys_jobs (id TEXT PRIMARY KEY, kind TEXT NOT NULL, body TEXT NOT NULL, state TEXT NOT NULL, tries INTEGER NOT NULL, run_at INTEGER NOT NULL, lease_until INTEGER, lease TEXT, error TEXT, made_at INTEGER NOT NULL, ended_at INTEGER) STRICT;
   CREATE INDEX sys_jobs_due ON sys_jobs (state, run_at);`,
  labelIndexes,
  shaping,
  FILES,
  VIEWS,
  fileSources,
  MESSAGES,
  DOORS,
  JOINS,
  PROVIDERS,
  shown,
  accounts,
  STOPS,
  FILLINGS,
  BRAND_PICTURES,
  TALK,
  ACCEPTANCES,
  "ALTER TABLE sys_talk ADD COLUMN files TEXT NOT NULL DEFAULT '[]';",
  `CREATE TABLE sys_kept_views (id TEXT PRIMARY KEY, person_id TEXT NOT NULL, section TEXT NOT NULL, name TEXT NOT NULL, query TEXT NOT NULL, at INTEGER NOT NULL, UNIQUE (person_id, section, name)) STRICT;`,
  allowances,
  MONEY,
  ALLOWANCE_COUNTS,
  // Whoever was added has not been in, whether anybody asked them or not.
  `UPDATE sys_fields SET options = replace(options, '"name":"invited"', '"name":"not in yet"') WHERE id = 'f_person_status';`,
  AWAY_RULES,
  ONE_CHARGE,
  SECOND_TRIES,
  SESSION_BESIDE,
  PAGE_ADDRESSES,
  eventKinds,
  LOG_INDEXES,
  KEYS,
  WEBHOOKS,
  KEPT_ANSWERS,
  SOURCES,
  SOURCES_BACK,
];

/** Brings a file to the newest format, each step in a transaction of its own. Throws where the file is newer than this program. */
export function migrate(db: Database.Database, steps: readonly Step[]): void {
  const have = db.pragma("user_version", { simple: true }) as number;
  if (have > steps.length)
    throw new Error(`This file was made by a newer Elkhorn (step ${have} of ${steps.length} known). Update Elkhorn to open it.`);
  for (let i = have; i < steps.length; i++) {
    db.transaction(() => {
      const step = steps[i]!;
      if (typeof step === "string") db.exec(step);
      else step(db);
      db.pragma(`user_version = ${i + 1}`);
    })();
  }
}
