/** Kinds with little to settle: what they show follows from who looks, and from the page's record. */
import { z } from "zod";
import { fieldsGone, readsNone, ref, type SectionKind, words } from "./kind";

const none = {};
const nothing = (): string[] => [];

export const conversation: SectionKind<"conversation", typeof none> = {
  kind: "conversation",
  name: "Conversation",
  what: "Messages between the company and you, about this record.",
  config: none,
  reads: readsNone,
  asks: false,
  heads: false,
  ofRecord: true,
  problems: (_, { about, acts }) =>
    [...acts.values()].some((a) => a.on === "talk" && a.table === about?.id)
      ? []
      : [`No act opens a conversation about ${about?.name ?? "it"}: make one under Access, and grant it.`],
};

const historyConfig = { fields: z.array(ref).max(60).nullable() };
export const history: SectionKind<"history", typeof historyConfig> = {
  kind: "history",
  name: "History",
  what: "What happened to this record, in the fields that the reader sees.",
  config: historyConfig,
  reads: readsNone,
  asks: false,
  heads: false,
  ofRecord: true,
  problems: (c, { about }) => (about ? fieldsGone(c.fields ?? [], about) : []),
};

const doorConfig = { joins: z.boolean() };
export const door: SectionKind<"door", typeof doorConfig> = {
  kind: "door",
  name: "Door",
  what: "The way in, for whoever is signed out; nothing for those who are in.",
  config: doorConfig,
  reads: readsNone,
  asks: false,
  heads: false,
  problems: nothing,
};

export const standing: SectionKind<"standing", typeof none> = {
  kind: "standing",
  name: "Plan",
  what: "The company's plan, what is used of it, and the way to change it.",
  config: none,
  reads: readsNone,
  asks: false,
  heads: false,
  problems: nothing,
};

const searchConfig = { tables: z.array(ref).max(60).nullable() };
export const search: SectionKind<"search", typeof searchConfig> = {
  kind: "search",
  name: "Search",
  what: "One box over all the lists that the reader sees.",
  config: searchConfig,
  reads: readsNone,
  asks: false,
  heads: false,
  problems: (c, { schema }) => ((c.tables ?? []).some((t) => !schema.findTable(t)) ? ["One of its tables is gone."] : []),
};

export const NOTICE_TONES = ["plain", "good", "warning", "trouble"] as const;
const day = z.iso.date().nullable();
const noticeConfig = {
  words: words(400),
  tone: z.enum(NOTICE_TONES),
  /** Days in the portal's zone, both included. */
  from: day,
  until: day,
  dismissible: z.boolean(),
};
export const notice: SectionKind<"notice", typeof noticeConfig> = {
  kind: "notice",
  name: "Notice",
  what: "A sentence that stands out, for a time.",
  config: noticeConfig,
  reads: readsNone,
  asks: false,
  heads: false,
  problems: (c) => (c.from && c.until && c.until < c.from ? ["Its last day comes before its first."] : []),
};

/** The welcome and what is open, as every portal begins. */
export const welcome: SectionKind<"welcome", typeof none> = {
  kind: "welcome",
  name: "Welcome",
  what: "The company's name, a word of welcome, and its plan.",
  config: none,
  reads: readsNone,
  asks: false,
  heads: true,
  problems: nothing,
};
