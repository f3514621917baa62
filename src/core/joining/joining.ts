/** Who may join a portal by themselves, and what is asked of them. */
import { z } from "zod";
import { cleanLine } from "../schema/fields/text";

export const KINDS = ["company", "member", "alone"] as const;
/** As a company of one's own; as one of a company that may be there; just oneself, which is a company of one. */
export type JoinKind = (typeof KINDS)[number];

const DOMAIN = /^(?!-)[a-z0-9-]{1,63}(?:\.[a-z0-9-]{1,63})+$/;

export const joiningShape = z.object({
  who: z.enum(["nobody", "known", "domains", "anybody"]),
  /** ASCII, small letters. A domain below a listed one is another. */
  domains: z.array(z.string().regex(DOMAIN, "Write domains such as client.example, without @.")).max(200),
  approval: z.boolean(),
  kinds: z.array(z.enum(KINDS)).min(1, "Leave one kind of sign-up."),
  /** Fields that the form asks for, of people and of companies. */
  fields: z.array(z.string()).max(40),
  /** What the owner sets whatever comes: texts by field id. */
  fixed: z.record(z.string(), z.string().max(2_000)),
  /** Roles that are given: to who brings a company, and to one of a company (given on approval). */
  lead: z.string().nullable(),
  member: z.string().nullable(),
  /** The terms that people agree to; empty where there are none. Each change is a new version. */
  terms: z.string().max(50_000),
});
export type Joining = z.infer<typeof joiningShape>;

export const CLOSED: Joining = {
  who: "nobody",
  domains: [],
  approval: true,
  kinds: ["company"],
  fields: [],
  fixed: {},
  lead: null,
  member: null,
  terms: "",
};

/**
 * An address as joining takes it: ASCII alone, so that no letter that looks like another makes a second address of the same look (Unicode
 * Technical Standard 39 is about such letters); letter case counts for nothing. Null where it is none.
 */
export function joinEmail(text: string): string | null {
  const email = text.trim().toLowerCase();
  return email.length <= 254 && /^[a-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@(?!-)[a-z0-9-]{1,63}(?:\.[a-z0-9-]{1,63})+$/.test(email)
    ? email
    : null;
}

/** Whether somebody who is not known may join with this address. */
export function mayJoin(s: Joining, email: string): boolean {
  if (s.who === "anybody") return true;
  return s.who === "domains" && s.domains.includes(email.slice(email.lastIndexOf("@") + 1));
}

/** A name typed by a stranger. It goes into mail to an address that they chose, so it must hold no link or address; null where it does. */
export function plainName(text: string): string | null {
  const name = cleanLine(text).replace(/\s+/g, " ");
  return name === "" || name.length > 120 || /[:/@<>\\[\]{}]|www\.|\.[\p{L}]{2,}(?:\s|$)/iu.test(name) ? null : name;
}
