/**
 * Paying: a subscription's whole life beside its standing; what was opened beside a plan, top-ups and credit; who is billed; checkouts with
 * what was asked of the provider; its events, each once; and what invoices were made from.
 */
export const MONEY = `ALTER TABLE sys_subscriptions ADD COLUMN body TEXT;
   ALTER TABLE sys_subscriptions ADD COLUMN collect TEXT NOT NULL DEFAULT 'none';
   ALTER TABLE sys_subscriptions ADD COLUMN next_day TEXT;
   CREATE INDEX sys_subscriptions_next ON sys_subscriptions (next_day);
   CREATE TABLE sys_reads (person_id TEXT NOT NULL, record_id TEXT NOT NULL, at INTEGER NOT NULL, PRIMARY KEY (person_id, record_id)) STRICT, WITHOUT ROWID;
   ALTER TABLE sys_joins ADD COLUMN back TEXT NOT NULL DEFAULT '';
   CREATE TABLE sys_worth (id INTEGER PRIMARY KEY, at INTEGER NOT NULL, company_id TEXT NOT NULL, plan TEXT NOT NULL, monthly INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_worth_company ON sys_worth (company_id, at);
   CREATE TABLE sys_opened (id TEXT PRIMARY KEY, company_id TEXT NOT NULL, person_id TEXT, kind TEXT NOT NULL, ref TEXT NOT NULL, until TEXT, why TEXT NOT NULL, order_id TEXT, at INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_opened_company ON sys_opened (company_id);
   CREATE TABLE sys_top_ups (id TEXT PRIMARY KEY, company_id TEXT NOT NULL, table_id TEXT NOT NULL, n INTEGER NOT NULL, used INTEGER NOT NULL DEFAULT 0, until TEXT, order_id TEXT, at INTEGER NOT NULL, CHECK (used <= n)) STRICT;
   CREATE INDEX sys_top_ups_company ON sys_top_ups (company_id, table_id);
   CREATE TABLE sys_credit (id INTEGER PRIMARY KEY, company_id TEXT NOT NULL, amount INTEGER NOT NULL, why TEXT NOT NULL, invoice_id TEXT, at INTEGER NOT NULL) STRICT;
   CREATE INDEX sys_credit_company ON sys_credit (company_id);
   CREATE TABLE sys_buyers (company_id TEXT PRIMARY KEY, body TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_customers (company_id TEXT PRIMARY KEY, account TEXT NOT NULL, customer TEXT NOT NULL, method TEXT, words TEXT, at INTEGER NOT NULL) STRICT;
   CREATE TABLE sys_checkouts (id TEXT PRIMARY KEY, filling TEXT NOT NULL UNIQUE, state TEXT NOT NULL, company_id TEXT, person_id TEXT, email TEXT NOT NULL, body TEXT NOT NULL, account TEXT NOT NULL, outside TEXT UNIQUE, url TEXT, back TEXT NOT NULL, made_at INTEGER NOT NULL, ended_at INTEGER, order_id TEXT, why TEXT) STRICT;
   CREATE INDEX sys_checkouts_state ON sys_checkouts (state, made_at);
   CREATE TABLE sys_charges (id TEXT PRIMARY KEY, invoice_id TEXT NOT NULL, company_id TEXT NOT NULL, state TEXT NOT NULL, made_at INTEGER NOT NULL, ended_at INTEGER, payment TEXT, why TEXT) STRICT;
   CREATE INDEX sys_charges_invoice ON sys_charges (invoice_id);
   CREATE TABLE sys_payments (outside TEXT PRIMARY KEY, payment_id TEXT NOT NULL, invoice_id TEXT NOT NULL, amount INTEGER NOT NULL, refunded INTEGER NOT NULL DEFAULT 0, CHECK (refunded <= amount)) STRICT;
   CREATE INDEX sys_payments_invoice ON sys_payments (invoice_id);
   CREATE TABLE sys_invoice_papers (invoice_id TEXT PRIMARY KEY, body TEXT NOT NULL) STRICT;
   CREATE TABLE sys_provider_events (id TEXT PRIMARY KEY, type TEXT NOT NULL, body TEXT NOT NULL, at INTEGER NOT NULL, done_at INTEGER, error TEXT) STRICT;
   CREATE INDEX sys_provider_events_open ON sys_provider_events (done_at, at);
   CREATE TABLE sys_provider (id INTEGER PRIMARY KEY CHECK (id = 1), account TEXT NOT NULL, mode TEXT NOT NULL, secret TEXT NOT NULL, secret_end TEXT NOT NULL, hook TEXT NOT NULL, hook_end TEXT NOT NULL, set_by TEXT NOT NULL, set_at INTEGER NOT NULL) STRICT;`;
