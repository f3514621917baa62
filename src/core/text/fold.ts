/**
 * Unicode simple case folding (Unicode Standard, section 5.18; CaseFolding.txt, status C and S): one code point maps to
 * one code point, so lengths in code points never change. Stored beside every text value, so that SQL and memory compare
 * the same thing: SQLite's own folding knows ASCII only.
 */

const ASCII_ONLY = /^[\x00-\x7f]*$/;
/** There SQLite's `lower` folds as we do. */
export const isAscii = (text: string): boolean => ASCII_ONLY.test(text);
const known = new Map<string, string>();

const isOneCodePoint = (s: string) => s.length === 1 || (s.length === 2 && s.codePointAt(0)! > 0xffff);

/** Two code points fold alike exactly if a pattern with the flags `iu` says so (ECMA-262, Canonicalize: simple folding). */
const foldsLike = (a: string, b: string) => new RegExp(`^\\u{${a.codePointAt(0)!.toString(16)}}$`, "iu").test(b);

function foldOne(c: string): string {
  const upper = c.toUpperCase();
  const candidates = [isOneCodePoint(upper) ? upper.toLowerCase() : "", c.toLowerCase()];
  for (const f of candidates) if (f !== c && isOneCodePoint(f) && foldsLike(c, f)) return f;
  return c;
}

/** A text as it is compared and sorted: without case and accents. */
export function fold(text: string): string {
  if (isAscii(text)) return text.toLowerCase();
  let out = "";
  for (const c of text) {
    let f = known.get(c);
    if (f === undefined) {
      f = foldOne(c);
      known.set(c, f);
    }
    out += f;
  }
  return out;
}

/** Order by code point, as SQLite's BINARY collation orders UTF-8; JavaScript's `<` differs above U+FFFF. */
export function compareCodePoints(a: string, b: string): number {
  const n = Math.min(a.length, b.length);
  for (let i = 0; i < n; i++) {
    const x = a.charCodeAt(i);
    const y = b.charCodeAt(i);
    if (x === y) continue;
    const astral = (u: number) => u >= 0xd800 && u <= 0xdfff;
    return astral(x) !== astral(y) ? (astral(x) ? 1 : -1) : x - y;
  }
  return a.length - b.length;
}
