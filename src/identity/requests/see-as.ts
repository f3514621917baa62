/**
 * See as: on the portal's own host, where the back office's cookie does not come. The office writes a ticket that is good for one use and
 * a minute; the portal's host takes it and sets a signed, short-lived cookie. That opens no session, cannot write, and is worth nothing
 * without the back-office session that it names.
 */
import { eq, lte } from "drizzle-orm";
import { z } from "zod";
import { tickets } from "@/data/file/control-tables";
import { control } from "@/data/file/open";
import { mac, macMatches, newToken, tokenHash } from "../secrets/secrets";

export const SEE_AS_LASTS = 30 * 60_000;
const TICKET_LASTS = 60_000;

/** Whom somebody looks as where it is nobody who has signed in. */
export const AS_VISITOR = "visitor";

/** In place of an office session, in tickets that make somebody somebody in a rehearsal: it lets nobody look as anybody. */
export const REHEARSED = "rehearsal";

const shape = z.object({ personId: z.string(), membershipId: z.string().nullable(), session: z.string() });
export type SeeAs = Readonly<z.infer<typeof shape>>;

/** A token that is good once and for a short time: as whom a member of staff sees the portal. */
export function writeTicket(portal: string, s: SeeAs, now: number): string {
  const token = newToken();
  const { orm } = control();
  orm.delete(tickets).where(lte(tickets.expiresAt, now)).run();
  orm
    .insert(tickets)
    .values({ hash: tokenHash(token), portal, body: JSON.stringify(s), expiresAt: now + TICKET_LASTS })
    .run();
  return token;
}

/** Undefined for a ticket that was used, is too old, is another portal's or never was. */
export function takeTicket(portal: string, token: string, now: number): SeeAs | undefined {
  const { orm } = control();
  const row = orm
    .delete(tickets)
    .where(eq(tickets.hash, tokenHash(token)))
    .returning()
    .get();
  return row && row.portal === portal && row.expiresAt > now ? shape.parse(JSON.parse(row.body)) : undefined;
}

/** Value of the cookie that says as whom somebody looks, signed for the portal. `now` in milliseconds. */
export function seeAsCookie(portal: string, s: SeeAs, now: number): string {
  const text = Buffer.from(JSON.stringify({ ...s, until: now + SEE_AS_LASTS })).toString("base64url");
  return `${text}.${mac(portal, "see-as", text)}`;
}

const signed = shape.extend({ until: z.number() });

export function readSeeAs(portal: string, cookie: string | undefined, now: number): SeeAs | undefined {
  const [text, signature] = cookie?.split(".") ?? [];
  if (!text || !signature || !macMatches(portal, "see-as", text, signature)) return undefined;
  // An earlier version may have signed another shape: that counts as no cookie.
  const read = signed.safeParse(JSON.parse(Buffer.from(text, "base64url").toString()));
  return read.success && read.data.until > now ? read.data : undefined;
}
