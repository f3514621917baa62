/** The installation's own file: the agency's staff, their sessions and the list of portals. */
import { integer, primaryKey, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { factors, flows, recovery } from "./portal-tables";

export const staff = sqliteTable("staff", {
  id: text("id").primaryKey(),
  email: text("email").notNull().unique(),
  name: text("name").notNull(),
  hash: text("hash").notNull(),
  createdAt: text("created_at").notNull(),
  /** A role of `core/access/who/office.ts`. */
  role: text("role").notNull().default("owner"),
  /** "active", "invited" or "inactive". */
  status: text("status").notNull().default("active"),
});

export const staffInvitations = sqliteTable("staff_invitations", {
  hash: text("hash").primaryKey(),
  staffId: text("staff_id").notNull().unique(),
  expiresAt: integer("expires_at").notNull(),
});

export const staffSessions = sqliteTable("staff_sessions", {
  hash: text("hash").primaryKey(),
  staffId: text("staff_id").notNull(),
  createdAt: integer("created_at").notNull(),
  expiresAt: integer("expires_at").notNull(),
  step: text("step").notNull().default("in"),
  seenAt: integer("seen_at").notNull().default(0),
});

/** Names stand in `detail` as they were: staff may be gone. */
export const staffEvents = sqliteTable("staff_events", {
  id: integer("id").primaryKey(),
  at: integer("at").notNull(),
  byId: text("by_id").notNull(),
  act: text("act").notNull(),
  aboutId: text("about_id"),
  detail: text("detail").notNull(),
});

export const portals = sqliteTable("portals", {
  slug: text("slug").primaryKey(),
  id: text("id").notNull().unique(),
  name: text("name").notNull(),
  createdAt: text("created_at").notNull(),
});

export const settings = sqliteTable("settings", { key: text("key").primaryKey(), value: text("value").notNull() });

export const attempts = sqliteTable("attempts", {
  key: text("key").primaryKey(),
  failures: integer("failures").notNull(),
  lastAt: integer("last_at").notNull(),
});

/** Good for one use: what one host hands another by way of the browser. */
export const tickets = sqliteTable("tickets", {
  hash: text("hash").primaryKey(),
  portal: text("portal").notNull(),
  body: text("body").notNull(),
  expiresAt: integer("expires_at").notNull(),
});

/** Names of hosts that lead to a portal, beside its own below the main one. */
export const domains = sqliteTable(
  "domains",
  {
    host: text("host").notNull(),
    /** The portal's id. */
    portal: text("portal").notNull(),
    token: text("token").notNull(),
    addedAt: integer("added_at").notNull(),
    shownAt: integer("shown_at"),
    /** "record" or "file". */
    shownBy: text("shown_by"),
    main: integer("main").notNull().default(0),
    /** Days in a row on which its record was not found. */
    missed: integer("missed").notNull().default(0),
  },
  (t) => [primaryKey({ columns: [t.host, t.portal] })],
);

/** Named for the drift test. */
export const ALL = {
  domains,
  staff,
  staffInvitations,
  staffSessions,
  staffEvents,
  portals,
  settings,
  attempts,
  tickets,
  factors,
  flows,
  recovery,
};
