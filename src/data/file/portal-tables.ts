/** The system's own tables in a portal's file, as Drizzle reads them. `migrations.ts` makes them; a test holds the two together. */
import { blob, integer, primaryKey, sqliteTable, text } from "drizzle-orm/sqlite-core";

export const meta = sqliteTable("sys_meta", { key: text("key").primaryKey(), value: text("value").notNull() });

export const tables = sqliteTable("sys_tables", {
  id: text("id").primaryKey(),
  slug: text("slug").notNull().unique(),
  name: text("name").notNull(),
  singular: text("singular").notNull(),
  kind: text("kind").notNull(),
  labelField: text("label_field").notNull(),
  position: integer("position").notNull(),
  about: text("about").notNull().default(""),
  /** When it was put away; such a table is not in the schema. Milliseconds since the epoch. */
  away: integer("away"),
  /** What the rules said of it then: `schema/away-rules.ts`. */
  awayRules: text("away_rules"),
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
  away: integer("away"),
  /** What the rules said of it then: `schema/away-rules.ts`. */
  awayRules: text("away_rules"),
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

export const accounts = sqliteTable("sys_accounts", {
  personId: text("person_id").primaryKey(),
  /** The last day, in the portal's zone (ISO 8601); after it the account is expired. */
  until: text("until"),
  /** What they sign in by where they have no e-mail; `nameKey` is it folded. */
  name: text("name"),
  nameKey: text("name_key"),
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
  /** How it began: by a password, or by a link that was sent to its person. */
  via: text("via").notNull().default("password"),
  /** "in", or what is still to come before anything opens: "second" or "enrol". */
  step: text("step").notNull().default("in"),
  /** The session that made it: it ends with that one. */
  beside: text("beside"),
});

/** Portals and the installation's own file have these alike. Secrets of one-time codes are sealed; a passkey's is its public key. */
export const factors = sqliteTable("sys_factors", {
  id: text("id").primaryKey(),
  personId: text("person_id").notNull(),
  /** "totp" or "passkey". */
  kind: text("kind").notNull(),
  name: text("name").notNull(),
  secret: text("secret").notNull(),
  /** The last step of time that was used, or a passkey's count of signatures. */
  counter: integer("counter").notNull(),
  /** A passkey works on the host it was made on (WebAuthn's relying party). */
  host: text("host"),
  confirmedAt: integer("confirmed_at"),
  madeAt: integer("made_at").notNull(),
  usedAt: integer("used_at"),
});

export const recovery = sqliteTable("sys_recovery", { personId: text("person_id").notNull(), hash: text("hash").notNull() }, (t) => [
  primaryKey({ columns: [t.personId, t.hash] }),
]);

/** What has begun and is to come back once: a challenge, the state of a sign-in elsewhere. */
export const flows = sqliteTable("sys_flows", {
  hash: text("hash").primaryKey(),
  kind: text("kind").notNull(),
  body: text("body").notNull(),
  expiresAt: integer("expires_at").notNull(),
});

export const settings = sqliteTable("sys_settings", { key: text("key").primaryKey(), value: text("value").notNull() });

/** A code itself is kept nowhere: it is worked out of its version. */
export const codes = sqliteTable(
  "sys_codes",
  {
    personId: text("person_id").notNull(),
    purpose: text("purpose").notNull(),
    version: integer("version").notNull(),
    expiresAt: integer("expires_at").notNull(),
    tries: integer("tries").notNull(),
    usedAt: integer("used_at"),
  },
  (t) => [primaryKey({ columns: [t.personId, t.purpose] })],
);

export const links = sqliteTable("sys_links", {
  id: text("id").primaryKey(),
  personId: text("person_id").notNull(),
  purpose: text("purpose").notNull(),
  version: integer("version").notNull(),
  expiresAt: integer("expires_at").notNull(),
  usedAt: integer("used_at"),
  /** When its page was first looked at, by whomever: a mail scanner looks, too. */
  openedAt: integer("opened_at"),
  /** The hash of what the browser holds that asked for it; null of links that the agency made. */
  asked: text("asked"),
});

/** The outbox. The body has a mark where a link stands: what opens a door is worked out when it is sent. */
export const messages = sqliteTable("sys_messages", {
  id: text("id").primaryKey(),
  occasion: text("occasion").notNull(),
  /** The same for all messages that one act asked for. */
  batch: text("batch"),
  personId: text("person_id"),
  email: text("email").notNull(),
  subject: text("subject").notNull(),
  body: text("body").notNull(),
  linkId: text("link_id"),
  linkVersion: integer("link_version"),
  /** ready, waiting, sent, failed. */
  state: text("state").notNull(),
  tries: integer("tries").notNull().default(0),
  error: text("error"),
  madeAt: integer("made_at").notNull(),
  madeBy: text("made_by").notNull(),
  sentAt: integer("sent_at"),
  /** "mail" or "sms"; what `email` holds is an address of that kind. */
  channel: text("channel").notNull().default("mail"),
});

export const stops = sqliteTable("sys_stops", {
  emailKey: text("email_key").primaryKey(),
  /** "bounce" or "stop". */
  kind: text("kind").notNull(),
  reason: text("reason").notNull(),
  at: integer("at").notNull(),
});

export const templates = sqliteTable("sys_templates", {
  occasion: text("occasion").primaryKey(),
  subject: text("subject").notNull(),
  body: text("body").notNull(),
  changedAt: integer("changed_at").notNull(),
});

export const providers = sqliteTable("sys_providers", {
  id: text("id").primaryKey(),
  /** "oidc" or "saml". */
  kind: text("kind").notNull(),
  name: text("name").notNull(),
  /** Whose people may be known by it the first time. */
  domains: text("domains", { mode: "json" }).$type<string[]>().notNull(),
  settings: text("settings", { mode: "json" }).$type<Record<string, string>>().notNull(),
  /** Sealed. */
  secret: text("secret"),
  madeAt: integer("made_at").notNull(),
});

export const outside = sqliteTable(
  "sys_outside",
  {
    providerId: text("provider_id").notNull(),
    subject: text("subject").notNull(),
    personId: text("person_id").notNull(),
    madeAt: integer("made_at").notNull(),
  },
  (t) => [primaryKey({ columns: [t.providerId, t.subject] })],
);

/** Those who ask to join: nothing else is made of them before their address is confirmed. */
export const joins = sqliteTable("sys_joins", {
  id: text("id").primaryKey(),
  email: text("email").notNull(),
  name: text("name").notNull(),
  kind: text("kind").notNull(),
  company: text("company"),
  values: text("values", { mode: "json" }).$type<Record<string, unknown>>().notNull(),
  wrote: text("wrote").notNull(),
  terms: integer("terms"),
  /** asked, confirmed (waits for approval, or is in), approved, declined, known. */
  state: text("state").notNull(),
  personId: text("person_id"),
  madeAt: integer("made_at").notNull(),
  expiresAt: integer("expires_at").notNull(),
  confirmedAt: integer("confirmed_at"),
  decidedAt: integer("decided_at"),
  decidedBy: text("decided_by"),
  /** Where they were going when they asked: what they had chosen to buy is kept so. */
  back: text("back").notNull().default(""),
});

export const terms = sqliteTable("sys_terms", {
  version: integer("version").primaryKey(),
  body: text("body").notNull(),
  at: integer("at").notNull(),
});

export const agreements = sqliteTable(
  "sys_agreements",
  {
    personId: text("person_id").notNull(),
    version: integer("version").notNull(),
    hash: text("hash").notNull(),
    at: integer("at").notNull(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.version] })],
);

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
  /** Its life as `core/billing` has it, as JSON; null where it was set by hand. */
  body: text("body"),
  /** How it is paid: "card" by what the provider keeps, "outside" by transfer, "none". */
  collect: text("collect").notNull().default("none"),
  /** The day in its zone on which something is to happen next (ISO). */
  nextDay: text("next_day"),
});

/** What a person has read, where a list tells so. */
export const reads = sqliteTable(
  "sys_reads",
  { personId: text("person_id").notNull(), recordId: text("record_id").notNull(), at: integer("at").notNull() },
  (r) => [primaryKey({ columns: [r.personId, r.recordId] })],
);

/** What a company pays a month, from each change on. */
export const worth = sqliteTable("sys_worth", {
  id: integer("id").primaryKey(),
  at: integer("at").notNull(),
  companyId: text("company_id").notNull(),
  plan: text("plan").notNull(),
  monthly: integer("monthly").notNull(),
});

/** Features and records opened beside a plan: bought once, or given by hand. For one person, where one is named. */
export const opened = sqliteTable("sys_opened", {
  id: text("id").primaryKey(),
  companyId: text("company_id").notNull(),
  personId: text("person_id"),
  /** "feature" or "record"; `ref` is its id. */
  kind: text("kind").notNull(),
  ref: text("ref").notNull(),
  /** The last day (ISO); null for good. */
  until: text("until"),
  why: text("why").notNull(),
  orderId: text("order_id"),
  at: integer("at").notNull(),
});

export const topUps = sqliteTable("sys_top_ups", {
  id: text("id").primaryKey(),
  companyId: text("company_id").notNull(),
  tableId: text("table_id").notNull(),
  n: integer("n").notNull(),
  used: integer("used").notNull().default(0),
  /** The first day on which it is gone. */
  until: text("until"),
  orderId: text("order_id"),
  at: integer("at").notNull(),
});

/** What is to a company's credit, as a ledger: its sum. Minor units. */
export const credit = sqliteTable("sys_credit", {
  id: integer("id").primaryKey(),
  companyId: text("company_id").notNull(),
  amount: integer("amount").notNull(),
  why: text("why").notNull(),
  invoiceId: text("invoice_id"),
  at: integer("at").notNull(),
});

/** Who is billed for a company, as JSON of `core/billing/buyer`. */
export const buyers = sqliteTable("sys_buyers", {
  companyId: text("company_id").primaryKey(),
  body: text("body").notNull(),
  at: integer("at").notNull(),
});

/** A company at the provider, and the way to pay that it keeps there. */
export const customers = sqliteTable("sys_customers", {
  companyId: text("company_id").primaryKey(),
  /** The account at the provider that knows it. */
  account: text("account").notNull(),
  customer: text("customer").notNull(),
  method: text("method"),
  /** "card ending in 4242". */
  words: text("words"),
  at: integer("at").notNull(),
});

export const checkouts = sqliteTable("sys_checkouts", {
  id: text("id").primaryKey(),
  /** The same for each time that one filled-in form is sent, so that pressing twice asks once. */
  filling: text("filling").notNull(),
  /** asked, charging, open, done, failed. */
  state: text("state").notNull(),
  /** What two purchases must not both be charged for. */
  subject: text("subject").notNull().default(""),
  companyId: text("company_id"),
  personId: text("person_id"),
  email: text("email").notNull(),
  /** What is bought and what it was reckoned at, as JSON. */
  body: text("body").notNull(),
  account: text("account").notNull(),
  /** Its id at the provider. */
  outside: text("outside"),
  url: text("url"),
  back: text("back").notNull(),
  madeAt: integer("made_at").notNull(),
  endedAt: integer("ended_at"),
  orderId: text("order_id"),
  why: text("why"),
});

/** Tries to charge what a company keeps at the provider; the id is the key of idempotency there. */
export const charges = sqliteTable("sys_charges", {
  id: text("id").primaryKey(),
  invoiceId: text("invoice_id").notNull(),
  companyId: text("company_id").notNull(),
  /** asked, paid, refused. */
  state: text("state").notNull(),
  madeAt: integer("made_at").notNull(),
  endedAt: integer("ended_at"),
  payment: text("payment"),
  why: text("why"),
});

/** Payments by their ids at the provider: none is written down twice, and none is paid back beyond what it was. */
export const payments = sqliteTable("sys_payments", {
  outside: text("outside").primaryKey(),
  paymentId: text("payment_id").notNull(),
  invoiceId: text("invoice_id").notNull(),
  amount: integer("amount").notNull(),
  refunded: integer("refunded").notNull().default(0),
});

/** What an invoice was made from (buyer, lines, rates), as JSON: it stays as it was. */
export const invoicePapers = sqliteTable("sys_invoice_papers", {
  invoiceId: text("invoice_id").primaryKey(),
  body: text("body").notNull(),
});

export const providerEvents = sqliteTable("sys_provider_events", {
  id: text("id").primaryKey(),
  type: text("type").notNull(),
  body: text("body").notNull(),
  at: integer("at").notNull(),
  doneAt: integer("done_at"),
  error: text("error"),
});

/** The account at a payment provider. Secrets are sealed, and only their ends are ever shown. */
export const provider = sqliteTable("sys_provider", {
  id: integer("id").primaryKey(),
  account: text("account").notNull(),
  /** "test" or "live". */
  mode: text("mode").notNull(),
  secret: text("secret").notNull(),
  secretEnd: text("secret_end").notNull(),
  hook: text("hook").notNull(),
  hookEnd: text("hook_end").notNull(),
  setBy: text("set_by").notNull(),
  setAt: integer("set_at").notNull(),
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
  label: text("label").notNull().default(""),
  removedBy: text("removed_by").notNull().default(""),
  /** The event that it was removed with others by, if so: they come back together. */
  actId: integer("act_id"),
});

/** What an import did to each record: the version after it says whether somebody has touched it since; `before` is what it changed. */
export const importRows = sqliteTable(
  "sys_import_rows",
  {
    importId: text("import_id").notNull(),
    recordId: text("record_id").notNull(),
    added: integer("added").notNull(),
    version: integer("version").notNull(),
    before: text("before"),
  },
  (r) => [primaryKey({ columns: [r.importId, r.recordId] })],
);

/** The last number given out by a field of numbers in order; the company is empty where they are one row for all. */
export const counters = sqliteTable(
  "sys_counters",
  { fieldId: text("field_id").notNull(), companyId: text("company_id").notNull(), n: integer("n").notNull() },
  (c) => [primaryKey({ columns: [c.fieldId, c.companyId] })],
);

/** Readable addresses that records had before. */
export const oldSlugs = sqliteTable(
  "sys_old_slugs",
  {
    fieldId: text("field_id").notNull(),
    companyId: text("company_id").notNull(),
    slug: text("slug").notNull(),
    recordId: text("record_id").notNull(),
  },
  (s) => [primaryKey({ columns: [s.fieldId, s.companyId, s.slug] })],
);

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
  /** What it made beside records, as JSON: see `data/imports/undo.ts`. */
  made: text("made"),
  doneAt: text("done_at"),
  /** Fields of another type since it noted what records held in them: a JSON list of ids. */
  retyped: text("retyped").notNull().default("[]"),
});

/** Files of records; without a record, an upload that none has taken yet. Without a hash it is still coming in. */
export const files = sqliteTable("sys_files", {
  id: text("id").primaryKey(),
  fieldId: text("field_id").notNull(),
  recordId: text("record_id"),
  name: text("name").notNull(),
  /** Folded, for being looked for. */
  nameKey: text("name_key").notNull(),
  bytes: integer("bytes").notNull(),
  hash: text("hash"),
  /** SHA-256 of what came, before a picture was turned upright; null of pictures from before that was noted. */
  source: text("source"),
  type: text("type"),
  width: integer("width"),
  height: integer("height"),
  /** For a picture: hashes of its smaller sizes, by name. */
  sizes: text("sizes"),
  madeAt: text("made_at").notNull(),
  madeBy: text("made_by").notNull(),
});

/** A view without a name is how one member of staff left the table; named ones are everybody's in the office. */
export const views = sqliteTable("sys_views", {
  id: text("id").primaryKey(),
  tableId: text("table_id").notNull(),
  staffId: text("staff_id").notNull(),
  name: text("name").notNull(),
  body: text("body").notNull(),
  at: text("at").notNull(),
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
  accounts,
  stops,
  credentials,
  sessions,
  factors,
  recovery,
  flows,
  settings,
  codes,
  providers,
  outside,
  joins,
  terms,
  agreements,
  links,
  attempts,
  subscriptions,
  events,
  eventValues,
  removed,
  importRows,
  counters,
  oldSlugs,
  files,
  views,
  imports,
  oldAddresses,
  jobs,
  search,
  reads,
  worth,
  opened,
  topUps,
  credit,
  buyers,
  customers,
  checkouts,
  charges,
  payments,
  invoicePapers,
  providerEvents,
  provider,
};

export const fillings = sqliteTable("sys_fillings", {
  key: text("key").primaryKey(),
  recordId: text("record_id").notNull(),
  at: integer("at").notNull(),
});

export const brandPictures = sqliteTable("sys_brand_pictures", {
  hash: text("hash").primaryKey(),
  type: text("type").notNull(),
  width: integer("width").notNull(),
  height: integer("height").notNull(),
  bytes: blob("bytes", { mode: "buffer" }).notNull(),
  at: integer("at").notNull(),
});

export const talk = sqliteTable("sys_talk", {
  id: text("id").primaryKey(),
  tableId: text("table_id").notNull(),
  recordId: text("record_id").notNull(),
  companyId: text("company_id"),
  /** 1 for the agency's own notes. */
  inside: integer("inside").notNull(),
  authorKind: text("author_kind").notNull(),
  authorId: text("author_id"),
  body: text("body").notNull(),
  at: integer("at").notNull(),
  /** Ids of files, as JSON. */
  files: text("files").notNull().default("[]"),
});

export const acceptances = sqliteTable("sys_acceptances", {
  id: text("id").primaryKey(),
  tableId: text("table_id").notNull(),
  recordId: text("record_id").notNull(),
  /** Whose the record was at that time. */
  companyId: text("company_id"),
  act: text("act").notNull(),
  authorKind: text("author_kind").notNull(),
  authorId: text("author_id"),
  /** By name, as it was: a person may be gone. */
  author: text("author").notNull(),
  /** SHA-256 of `body`, in hex. */
  hash: text("hash").notNull(),
  /** The version that was accepted, as it was hashed. */
  body: text("body").notNull(),
  at: integer("at").notNull(),
});

/** Lists as somebody wants to find them again: what stands in the address, under a name. Theirs alone. */
export const keptViews = sqliteTable("sys_kept_views", {
  id: text("id").primaryKey(),
  personId: text("person_id").notNull(),
  section: text("section").notNull(),
  name: text("name").notNull(),
  query: text("query").notNull(),
  at: integer("at").notNull(),
});

export const allowanceUses = sqliteTable("sys_allowance_uses", {
  id: integer("id").primaryKey(),
  companyId: text("company_id").notNull(),
  tableId: text("table_id").notNull(),
  recordId: text("record_id").notNull(),
  /** YYYY-MM in the portal's zone, as of the addition. */
  month: text("month").notNull(),
  at: integer("at").notNull(),
});

/** How many lines of the ledger there are, kept by triggers. */
export const allowanceCounts = sqliteTable(
  "sys_allowance_counts",
  {
    companyId: text("company_id").notNull(),
    tableId: text("table_id").notNull(),
    month: text("month").notNull(),
    n: integer("n").notNull(),
  },
  (x) => [primaryKey({ columns: [x.companyId, x.tableId, x.month] })],
);

/** Wrong codes of the second factor in a row. In the installation's file, too, for staff. */
export const secondTries = sqliteTable("sys_second_tries", {
  personId: text("person_id").primaryKey(),
  failures: integer("failures").notNull(),
  /** When the last one was made. Milliseconds since the epoch. */
  at: integer("at").notNull(),
});

/** Keys of programs: of a person in one of their memberships, or of a role. Times are milliseconds since the epoch. */
export const keys = sqliteTable("sys_keys", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  hash: text("hash").notNull(),
  /** How it begins, to know it by. */
  begins: text("begins").notNull(),
  personId: text("person_id"),
  membershipId: text("membership_id"),
  roleId: text("role_id"),
  companyId: text("company_id"),
  /** JSON, `Within`; null where it opens all that its roles do. */
  within: text("within"),
  /** JSON, the networks that it may come from; empty where it may come from anywhere. */
  addresses: text("addresses").notNull(),
  perMinute: integer("per_minute").notNull(),
  madeAt: integer("made_at").notNull(),
  madeBy: text("made_by").notNull(),
  endsAt: integer("ends_at"),
  endedAt: integer("ended_at"),
  lastAt: integer("last_at"),
  lastFrom: text("last_from"),
  /** When it last stood in an address, where it is written down on the way. */
  leakedAt: integer("leaked_at"),
  /** Whether an assistant may use it (Model Context Protocol). */
  tools: integer("tools").notNull().default(0),
});

/** Where other programs are told of events. Secrets are sealed. */
export const webhooks = sqliteTable("sys_webhooks", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  url: text("url").notNull(),
  secret: text("secret").notNull(),
  /** The secret before, which signs as well until receivers have the new one. */
  former: text("former"),
  formerUntil: integer("former_until"),
  /** JSON, kinds of events; "act" for all acts of the agency's own. */
  kinds: text("kinds").notNull(),
  tableId: text("table_id"),
  /** JSON, a condition. */
  filter: text("filter"),
  roleId: text("role_id").notNull(),
  companyId: text("company_id"),
  madeAt: integer("made_at").notNull(),
  pausedAt: integer("paused_at"),
  pausedWhy: text("paused_why"),
  /** When the first of those sends began that have failed since; null where the last one was taken. */
  failingSince: integer("failing_since"),
});
