/** Texts of a known form: e-mail addresses, telephone numbers and addresses on the web. */
import { err, ok, type Result } from "../../result";
import { shortened } from "../../text/shortened";
import { type FieldKind, given, type Having, sole } from "./kind";
import { cleanText, text } from "./text";

/** Of the HTML Living Standard, "valid e-mail address", with at least one point in the domain; letters beyond ASCII as in RFC 6531. */
const EMAIL =
  /^[\p{L}\p{N}.!#$%&'*+/=?^_`{|}~-]+@[\p{L}\p{N}](?:[\p{L}\p{N}-]{0,61}[\p{L}\p{N}])?(?:\.[\p{L}\p{N}](?:[\p{L}\p{N}-]{0,61}[\p{L}\p{N}])?)+$/u;

/** 254 signs at most (RFC 5321 section 4.5.3.1.3, less the angle brackets). */
export const isEmail = (t: string): boolean => t.length <= 254 && EMAIL.test(t);

function readEmail(given: string): Result<string | null, string> {
  const t = cleanText(given).replace(/^mailto:/i, "");
  if (t === "") return ok(null);
  return isEmail(t) ? ok(t) : err(`“${shortened(t)}” is not an e-mail address.`);
}

/** Kept as it was typed, leading zeros too. 4 to 15 digits (ITU-T E.164 section 6.2.1 has 15 at most; short numbers are shorter). */
function readTelephone(given: string): Result<string | null, string> {
  const t = cleanText(given).replace(/^tel:/i, "");
  if (t === "") return ok(null);
  const [, number = "", extension = ""] = /^(.*?)(?:\s*(?:ext\.?|x|#)\s*(\d{1,8}))?$/i.exec(t) ?? [];
  const digits = number.replace(/\D/g, "").length;
  const written = /^\+?[\d\s()./\-\u2010-\u2013]+$/.test(number) && digits >= 3 && digits <= 17;
  return written && t.length <= 40 + extension.length ? ok(t) : err(`“${shortened(t)}” is not a telephone number.`);
}

/** http and https alone: an address that a page may link to without running anything. One without a scheme is given https. */
function readWebAddress(given: string): Result<string | null, string> {
  const t = cleanText(given);
  if (t === "") return ok(null);
  const whole = /^[a-z][a-z0-9+.-]*:/i.test(t) && !/^[^/:]+\.[^/:]+:\d/.test(t) ? t : `https://${t}`;
  const bad = err(`“${shortened(t)}” is not a web address; those begin with https:// or http://.`);
  if (/\s/.test(whole) || whole.length > 2_000 || !URL.canParse(whole)) return bad;
  const { protocol, hostname, username } = new URL(whole);
  const sound = (protocol === "https:" || protocol === "http:") && username === "" && (hostname.includes(".") || hostname === "localhost");
  return sound ? ok(whole) : bad;
}

type Plain = Having;

function of(name: string, read: (t: string) => Result<string | null, string>, schema: object): FieldKind<Plain> {
  return {
    ...(text as unknown as FieldKind<Plain>),
    name,
    options: () => ({}),
    parse: (texts) => read(sole(texts)),
    fromJson: (v) => (typeof v === "string" ? read(v) : err("This must be text.")),
    jsonSchema: () => ({ type: ["string", "null"], ...schema }),
  };
}

export const email = of("E-mail", readEmail, { format: "email" });
export const webAddress = of("Web address", readWebAddress, { format: "uri" });
export const telephone: FieldKind<Having<never, "country">> = {
  ...(of("Telephone", readTelephone, {}) as unknown as FieldKind<Having<never, "country">>),
  options: (o) => given(o, "country"),
};
