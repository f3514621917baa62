/** The system's own tables in a portal's file, as Drizzle reads them. `migrations.ts` makes them; a test holds the two together. */
import { integer, sqliteTable, text } from "drizzle-orm/sqlite-core";

export const meta = sqliteTable("sys_meta", { key: text("key").primaryKey(), value: text("value").notNull() });

export const tables = sqliteTable("sys_tables", {
  id: text("id").primaryKey(),
  slug: text("slug").notNull().unique(),
  name: text("name").notNull(),
  singular: text("singular").notNull(),
  kind: text("kind").notNull(),
  labelField: text("label_field").notNull(),
  position: integer("position").notNull(),
});

export const fields = sqliteTable("sys_fields", {
  id: text("id").primaryKey(),
  tableId: text("table_id").notNull(),
  slug: text("slug").notNull(),
  name: text("name").notNull(),
  type: text("type").notNull(),
  options: text("options").notNull(),
  system: integer("system").notNull(),
  position: integer("position").notNull(),
});

export const definitions = sqliteTable("sys_definitions", {
  version: integer("version").primaryKey(),
  body: text("body").notNull(),
  publishedAt: text("published_at").notNull(),
  publishedBy: text("published_by").notNull(),
  note: text("note").notNull().default(""),
});

/** The parts of the draft that were changed; the rest is as published. */
export const draftParts = sqliteTable("sys_draft_parts", {
  part: text("part").primaryKey(),
  body: text("body").notNull(),
  revision: integer("revision").notNull(),
  /** The number of the step of `draftSteps` that the part stands at. */
  step: integer("step").notNull(),
  changedAt: text("changed_at").notNull(),
});

/** What a part has been, so that it can be undone and redone; step 0 is what it began from. `gone` were undone and then cut off. */
export const draftSteps = sqliteTable("sys_draft_steps", {
  id: integer("id").primaryKey(),
  part: text("part").notNull(),
  n: integer("n").notNull(),
  body: text("body").notNull(),
  what: text("what").notNull(),
  at: text("at").notNull(),
  gone: integer("gone").notNull(),
});

/** Each state that the draft was in, and the step that made it. */
export const draftRevisions = sqliteTable("sys_draft_revisions", {
  revision: integer("revision").primaryKey(),
  part: text("part").notNull(),
  stepId: integer("step_id").notNull(),
});

export const memberships = sqliteTable("sys_memberships", {
  id: text("id").primaryKey(),
  personId: text("person_id").notNull(),
  /** Null for the agency's own people. */
  companyId: text("company_id"),
  roles: text("roles", { mode: "json" }).$type<string[]>().notNull(),
  createdAt: text("created_at").notNull(),
});

export const credentials = sqliteTable("sys_credentials", {
  personId: text("person_id").primaryKey(),
  hash: text("hash").notNull(),
  temporary: integer("temporary", { mode: "boolean" }).notNull(),
  changedAt: text("changed_at").notNull(),
});

/** `hash` is the SHA-256 of the token in the cookie; the token itself is stored nowhere. Times are milliseconds since the epoch. */
export const sessions = sqliteTable("sys_sessions", {
  hash: text("hash").primaryKey(),
  personId: text("person_id").notNull(),
  membershipId: text("membership_id"),
  createdAt: integer("created_at").notNull(),
  seenAt: integer("seen_at").notNull(),
  expiresAt: integer("expires_at").notNull(),
});

export const links = sqliteTable("sys_links", {
  id: text("id").primaryKey(),
  personId: text("person_id").notNull(),
  purpose: text("purpose").notNull(),
  version: integer("version").notNull(),
  expiresAt: integer("expires_at").notNull(),
  usedAt: integer("used_at"),
});

export const attempts = sqliteTable("sys_attempts", {
  key: text("key").primaryKey(),
  failures: integer("failures").notNull(),
  lastAt: integer("last_at").notNull(),
});

export const subscriptions = sqliteTable("sys_subscriptions", {
  companyId: text("company_id").primaryKey(),
  plan: text("plan").notNull(),
  state: text("state").notNull(),
  until: text("until"),
  timeZone: text("time_zone").notNull(),
});

/** What happened. Rows are never changed; what is personal stands in `eventValues`, where it can be erased. */
export const events = sqliteTable("sys_events", {
  id: integer("id").primaryKey(),
  at: integer("at").notNull(),
  actorKind: text("actor_kind").notNull(),
  actorId: text("actor_id"),
  via: text("via").notNull(),
  act: text("act").notNull(),
  tableId: text("table_id"),
  recordId: text("record_id"),
  companyId: text("company_id"),
  detail: text("detail"),
  cause: integer("cause"),
});

/** Values by field id, as JSON. */
export const eventValues = sqliteTable("sys_event_values", {
  eventId: integer("event_id").primaryKey(),
  before: text("before"),
  after: text("after"),
});

export const removed = sqliteTable("sys_removed", {
  recordId: text("record_id").primaryKey(),
  tableId: text("table_id").notNull(),
  body: text("body").notNull(),
  at: text("at").notNull(),
});

export const imports = sqliteTable("sys_imports", {
  id: text("id").primaryKey(),
  fileName: text("file_name").notNull(),
  state: text("state").notNull(),
  plan: text("plan"),
  total: integer("total").notNull(),
  good: integer("good").notNull(),
  bad: integer("bad").notNull(),
  message: text("message"),
  tableId: text("table_id"),
  createdAt: text("created_at").notNull(),
});

/** Where tables stood before; their old addresses lead to them. */
export const oldAddresses = sqliteTable("sys_old_addresses", {
  slug: text("slug").primaryKey(),
  tableId: text("table_id").notNull(),
});

/** Work to be done, and done. A running job holds a lease: when that is over, it is anybody's again. Times are milliseconds since the epoch. */
export const jobs = sqliteTable("sys_jobs", {
  id: text("id").primaryKey(),
  kind: text("kind").notNull(),
  body: text("body").notNull(),
  state: text("state").notNull(),
  tries: integer("tries").notNull(),
  runAt: integer("run_at").notNull(),
  leaseUntil: integer("lease_until"),
  lease: text("lease"),
  error: text("error"),
  madeAt: integer("made_at").notNull(),
  endedAt: integer("ended_at"),
});

/** Tables whose words are indexed, with the columns that they are of. */
export const search = sqliteTable("sys_search", { tableId: text("table_id").primaryKey(), columns: text("columns").notNull() });

/** Named for the drift test. */
export const ALL = {
  meta,
  tables,
  fields,
  definitions,
  draftParts,
  draftSteps,
  draftRevisions,
  memberships,
  credentials,
  sessions,
  links,
  attempts,
  subscriptions,
  events,
  eventValues,
  removed,
  imports,
  oldAddresses,
  jobs,
  search,
};
