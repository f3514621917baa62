/** Passwords: argon2id with OWASP's minimum parameters; lengths and the refusal of common ones follow NIST SP 800-63B-4. */
import { randomInt } from "node:crypto";
import { dictionary } from "@zxcvbn-ts/language-common";
import { fold } from "@/core/text/fold";
import { argonHash, argonVerify, TooMany } from "./hashing";

export const SHORTEST = 15;
export const LONGEST = 256;

/** In the PHC string format; of the password in NFKC, as NIST SP 800-63B-4 says. */
export const hashPassword = (password: string): Promise<string> => argonHash(password.normalize("NFKC"));

let dummy: Promise<string> | undefined;

/** Takes as long for an unknown person as for a known one: there is always a hash to check. */
export async function passwordMatches(stored: string | undefined, password: string): Promise<boolean> {
  dummy ??= argonHash("nobody has this password");
  const good = await argonVerify(stored ?? (await dummy), password.slice(0, LONGEST * 4).normalize("NFKC"));
  return good && stored !== undefined;
}

/** The name under which tries for an e-mail are counted, whether or not anybody has it. */
export const accountOf = (email: string): string => `account ${fold(email.trim()).slice(0, 200)}`;

export const BUSY_SECONDS = 5;

/** Where too many are asked for at once, nobody is told whether it was right. */
export async function whetherMatches(stored: string | undefined, password: string): Promise<boolean | "too-many"> {
  try {
    return await passwordMatches(stored, password);
  } catch (e) {
    if (e instanceof TooMany) return "too-many";
    throw e;
  }
}

const common = new Set(
  Object.values(dictionary)
    .flatMap((words) => (Array.isArray(words) ? words : []))
    .filter((w): w is string => typeof w === "string" && w.length >= 8),
);

/** A sentence if the password may not be used. No rules of composition; paste and any characters are fine. */
export function passwordProblem(password: string, about: readonly string[]): string | null {
  const length = [...password].length;
  if (length < SHORTEST) return `Use at least ${SHORTEST} characters. Three or four unrelated words make a good one.`;
  if (length > LONGEST) return `Use at most ${LONGEST} characters.`;
  const low = password.toLowerCase();
  const alone = low.replace(/[^\p{L}]/gu, "");
  if (common.has(low) || common.has(alone) || new Set(low).size < 5)
    return "This one is among the first that anybody would guess. Choose another.";
  const near = (a: string): boolean => a.includes(low) || low.replace(a, "").length < 6;
  if (about.some((a) => a.length > 3 && near(a.toLowerCase()))) return "This is too close to your name or address. Choose another.";
  return null;
}

const WORDS =
  "amber anchor apron basil beacon birch bramble candle canyon cedar cobalt copper coral cricket dahlia ember fennel ferry garnet ginger harbour hazel heron indigo ivory juniper kettle lantern lichen linen magnet maple marble meadow mint needle nettle oak olive orchard otter pebble pepper plum quartz quill raven reed river saddle saffron salt sparrow thistle timber tulip velvet walnut willow".split(
    " ",
  );

/** For the owner to hand over: 5 words of 60 and 3 digits, about 39 bits; it opens nothing but the page that replaces it. */
export const temporaryPassword = (): string =>
  `${Array.from({ length: 5 }, () => WORDS[randomInt(WORDS.length)]).join("-")}-${randomInt(100, 1000)}`;
