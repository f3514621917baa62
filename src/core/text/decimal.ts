/** Decimals without floats: what people write becomes a plain decimal, and that an integer scaled by a number of digits. */
import { err, ok, type Result } from "../result";
import { shortened } from "./shortened";

/** Most numbers of most files: whole ones, which are what they say, and safe integers (IEEE 754). */
const WHOLE = /^-?(?:0|[1-9]\d{0,14})$/;
/** Whether a text is a whole number in digits alone, perhaps with a minus. */
export const isPlainWhole = (text: string): boolean => WHOLE.test(text);

/** 1,234.5 and 1 234,5 and 1234.5 as "1234.5"; a lone comma followed by three digits groups thousands. */
export function readDecimal(text: string, mark?: "." | ","): Result<string, string> {
  if (isPlainWhole(text)) return ok(text);
  let t = text.trim().replace(/[\s\u00a0\u202f'\u2019]/g, "");
  if (mark === "," && /^[-+]?\d{1,3}(\.\d{3})+$/.test(t)) t = t.replaceAll(".", "");
  else if (mark === "," && /^[-+]?\d+,\d+$/.test(t)) t = t.replace(",", ".");
  else if (/^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(t)) t = t.replaceAll(",", "");
  else if (/^[-+]?\d{1,3}(\.\d{3})+,\d+$/.test(t)) t = t.replaceAll(".", "").replace(",", ".");
  else if (/^[-+]?\d+,\d+$/.test(t)) t = t.replace(",", ".");
  const parts = /^([-+]?)(\d*)(?:\.(\d*))?(?:e([-+]?\d{1,3}))?$/i.exec(t);
  if (!parts || !(parts[2] || parts[3])) return err(`“${shortened(text)}” is not a number.`);
  const [, sign, whole = "", part = "", power = "0"] = parts;
  return ok((sign === "-" ? "-" : "") + shifted(whole, part, Number(power)));
}

/** Digits before and after the point, with the point moved to the right by `by`. */
function shifted(whole: string, part: string, by: number): string {
  const digits = whole + part;
  const point = whole.length + by;
  const padded = point < 0 ? "0".repeat(-point) + digits : digits.padEnd(point, "0");
  const at = Math.max(0, point);
  const before = padded.slice(0, at).replace(/^0+(?=\d)/, "") || "0";
  const after = padded.slice(at).replace(/0+$/, "");
  return after ? `${before}.${after}` : before;
}

/** Digits after the point of a plain decimal. */
export const decimalsOf = (decimal: string): number => decimal.split(".")[1]?.length ?? 0;

/** A plain decimal as an integer of so many digits after the point. Finer ones are refused, or rounded half away from zero. */
export function scale(decimal: string, digits: number, finer: "refuse" | "round" = "refuse"): Result<number, "finer" | "large"> {
  if (!decimal.includes(".")) {
    const n = Number(decimal) * 10 ** digits; // exact as long as it is safe
    if (!Number.isSafeInteger(n)) return err("large");
    return ok(n === 0 ? 0 : n);
  }
  const negative = decimal.startsWith("-");
  const [whole = "0", part = ""] = decimal.replace("-", "").split(".");
  if (part.length > digits && finer === "refuse") return err("finer");
  let n = Number(whole + part.slice(0, digits).padEnd(digits, "0"));
  if ((part[digits] ?? "0") >= "5") n += 1;
  if (!Number.isSafeInteger(n)) return err("large");
  return ok(n === 0 ? 0 : negative ? -n : n);
}

/** The plain decimal of a scaled integer, with all its digits: 1250 of two is "12.50". */
export function unscale(n: number, digits: number): string {
  const text = String(Math.abs(n)).padStart(digits + 1, "0");
  const at = text.length - digits;
  return `${n < 0 ? "-" : ""}${text.slice(0, at)}${digits > 0 ? `.${text.slice(at)}` : ""}`;
}

/** The sign before the decimals that a text cannot do without, or null where either would read it. */
export function markOf(text: string): "." | "," | null {
  const t = text.replace(/[^\d.,]/g, "");
  const [point, comma] = [t.lastIndexOf("."), t.lastIndexOf(",")];
  if (point >= 0 && comma >= 0) return point > comma ? "." : ",";
  const at = Math.max(point, comma);
  if (at < 0) return null;
  const sign = point >= 0 ? "." : ",";
  if (t.indexOf(sign) !== at) return sign === "." ? "," : "."; // the same sign twice groups thousands
  const whole = t.slice(0, at);
  return t.length - at - 1 === 3 && whole !== "" && whole !== "0" && whole.length <= 3 ? null : sign;
}
