/** Safeguards as the sentences that they are. */
import type { Claim, Safeguard, Subject } from "../safeguards";

/** Names for the ids in a safeguard; what is gone has none. */
export interface SafeguardNames {
  role(id: string): string | undefined;
  company(id: string): string | undefined;
  person(id: string): string | undefined;
  table(id: string): string | undefined;
  field(id: string): string | undefined;
  /** How many ways lead from the table to companies: which one is meant is said where there is a choice. */
  ways(table: string): number;
}

const DOES = { see: "sees", add: "adds", change: "changes", remove: "removes", export: "downloads" } as const;
const NONE = { client: "No client", agency: "Nobody of the agency", visitor: "No visitor" } as const;
const EVERY = { client: "Every client", agency: "Everybody of the agency", visitor: "Every visitor" } as const;

const personWords = (s: Extract<Subject, { kind: "person" }>, names: SafeguardNames): string => {
  const name = names.person(s.person) ?? "A removed person";
  return s.company ? `${name}, acting for ${names.company(s.company) ?? "a removed company"},` : name;
};

function nobody(s: Subject, names: SafeguardNames): string {
  switch (s.kind) {
    case "side":
      return NONE[s.side];
    case "role":
      return `Nobody as ${names.role(s.role) ?? "a removed role"}`;
    case "company":
      return `Nobody of ${names.company(s.company) ?? "a removed company"}`;
    case "person":
      return `${personWords(s, names)} never`;
  }
}

function everybodyOf(s: Subject, names: SafeguardNames): string {
  switch (s.kind) {
    case "side":
      return EVERY[s.side];
    case "role":
      return `Everybody as ${names.role(s.role) ?? "a removed role"}`;
    case "company":
      return `Everybody of ${names.company(s.company) ?? "a removed company"}`;
    case "person":
      return personWords(s, names);
  }
}

function claimWords({ claim: c, table: id }: Omit<Safeguard, "id">, names: SafeguardNames, locale: string): string {
  const table = names.table(id) ?? "a removed table";
  switch (c.kind) {
    case "nothing":
      return `${DOES[c.action]} any record ${c.action === "add" ? "to" : "of"} ${table}`;
    case "others": {
      const way = c.way.map((f) => names.field(f) ?? "a removed field").join(" › ");
      return `${DOES[c.action]} a record of ${table} that is another company's${names.ways(id) > 1 ? ` by ${way}` : ""}`;
    }
    case "count":
      return `sees ${c.bound} ${c.n.toLocaleString(locale)} ${c.n === 1 ? "record" : "records"} of ${table}`;
    case "field":
      return `${c.action === "see" ? "reads" : "sets"} ${names.field(c.field) ?? "a removed field"} of ${table}`;
  }
}

/** A safeguard as one English sentence. */
export function safeguardSentence(s: Omit<Safeguard, "id">, names: SafeguardNames, locale = "en-GB"): string {
  const who = s.claim.kind === "count" ? everybodyOf(s.subject, names) : nobody(s.subject, names);
  return `${who} ${claimWords(s, names, locale)}.`;
}

/** What somebody does against a safeguard: "sees 308: BR-101, BR-102 and 306 more". */
export function breachWords(c: Claim, n: number, adds: boolean, table: string, field: string, locale: string): string {
  const count = n.toLocaleString(locale);
  if (adds) return c.kind === "field" ? `may set ${field} when adding to ${table}` : `may add to ${table}`;
  switch (c.kind) {
    case "count":
      return `sees ${count}`;
    case "field":
      return `${c.action === "see" ? "reads" : "may set"} it on ${count} of ${table}`;
    default:
      return `${c.action === "see" ? "sees" : `may ${c.action === "export" ? "download" : c.action}`} ${count}`;
  }
}
