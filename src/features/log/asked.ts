/** What an address asks of the log. */
import type { LogAsked } from "@/data/log/log";

export interface LogSearch {
  readonly q?: string;
  readonly who?: string;
  readonly company?: string;
  readonly act?: string;
  readonly table?: string;
  readonly record?: string;
  readonly before?: string;
}

export const askedOf = (s: LogSearch): Omit<LogAsked, "limit"> => ({
  words: s.q?.slice(0, 200),
  who: s.who?.slice(0, 100),
  company: s.company?.slice(0, 100),
  kind: s.act?.slice(0, 100),
  table: s.table?.slice(0, 100),
  record: s.record?.slice(0, 100),
  before: /^\d{1,15}$/.test(s.before ?? "") ? Number(s.before) : undefined,
});
