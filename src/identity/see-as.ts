/** See as: a signed, short-lived cookie that only staff get. It opens no session, and what it opens cannot write. */
import { mac, macMatches } from "./secrets";

export const SEE_AS_LASTS = 30 * 60_000;

export interface SeeAs {
  readonly personId: string;
  readonly membershipId: string | null;
  readonly staffId: string;
}

/** Bound to the member of staff: without that person's own back-office session it is worth nothing. */
export function seeAsCookie(portal: string, s: SeeAs, now: number): string {
  const text = Buffer.from(JSON.stringify({ ...s, until: now + SEE_AS_LASTS })).toString("base64url");
  return `${text}.${mac(portal, "see-as", text)}`;
}

export function readSeeAs(portal: string, cookie: string | undefined, now: number): SeeAs | undefined {
  const [text, signature] = cookie?.split(".") ?? [];
  if (!text || !signature || !macMatches(portal, "see-as", text, signature)) return undefined;
  const { until, ...s } = JSON.parse(Buffer.from(text, "base64url").toString()) as SeeAs & { until: number };
  return until > now ? s : undefined;
}
