/**
 * A page's passphrase: a light extra beside its audience, for what is passed on by word of mouth. It opens no record that a grant does not
 * open, and is hashed like a password all the same: people use the same words elsewhere.
 */
import { cookies } from "next/headers";
import { config } from "@/config";
import type { Page } from "@/core/pages/page";
import { countTry, forgetTries, limitOn, waitFor } from "../limits/limits";
import { argonHash, argonVerify, TooMany } from "../passwords/hashing";
import { mac, macMatches } from "../secrets/secrets";
import { fromHere } from "./cookies";
import type { PortalRequest } from "./request";

/** The hash of words as they are stored; the same words in another form of Unicode have the same. */
export const hashPassphrase = (words: string): Promise<string> => argonHash(words.normalize("NFKC"));

/** Hours that it is remembered in a browser. */
const LASTS_S = 12 * 3600;
/** A name that no header minds, and that says nothing of the page. */
const cookieOf = (r: PortalRequest, page: Page): string =>
  `${config().secure ? (r.base ? "__Secure-" : "__Host-") : ""}elkhorn_page_${mac(r.file.id, "page-cookie", page.id).slice(0, 16)}`;

/** Whether whoever asks has said it; of a page without one, yes. Changed words ask everybody anew. While seeing as somebody nothing is asked. */
export async function saidPassphrase(r: PortalRequest, page: Page): Promise<boolean> {
  if (page.passphrase === null || r.seeAs) return true;
  const [until = "", signature = ""] = ((await cookies()).get(cookieOf(r, page))?.value ?? "").split(".");
  return Number(until) > r.viewer.now && macMatches(r.file.id, "page", `${page.id} ${page.passphrase} ${until}`, signature);
}

export type Said = { ok: true } | { ok: false; wait: number };

/** Tries are counted for the page from one address, and wait longer each time. */
export async function sayPassphrase(r: PortalRequest, page: Page, words: string): Promise<Said> {
  if (page.passphrase === null) return { ok: true };
  const { address } = await fromHere(r.file.id, r.base, "");
  const limits = limitOn(`passphrase ${page.id} from ${address}`);
  const { now } = r.viewer;
  const wait = waitFor(r.file.orm, limits, now);
  if (wait > 0) return { ok: false, wait };
  countTry(r.file.orm, limits, now);
  try {
    if (!(await argonVerify(page.passphrase, words.normalize("NFKC")))) return { ok: false, wait: 0 };
  } catch (e) {
    if (e instanceof TooMany) return { ok: false, wait: 1_000 };
    throw e;
  }
  forgetTries(r.file.orm, limits);
  const until = String(now + LASTS_S * 1000);
  const value = `${until}.${mac(r.file.id, "page", `${page.id} ${page.passphrase} ${until}`)}`;
  (await cookies()).set(cookieOf(r, page), value, {
    httpOnly: true,
    sameSite: "lax",
    secure: config().secure,
    path: r.base || "/",
    maxAge: LASTS_S,
  });
  return { ok: true };
}
