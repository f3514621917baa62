/** Readable addresses. Scripts that transliterate to nothing get a numbered fallback instead of an empty address. */
import slugify from "@sindresorhus/slugify";

/** Lower case, one hyphen between words, nothing at the ends; empty for what has no letter or digit that can be written so. */
export const slugWords = (name: string): string => slugify(name).slice(0, 60).replace(/-+$/, "");

/**
 * A name as it stands in an address, with a number behind it where that is taken; `fallback` where the name has no letter that may stand
 * there.
 */
export function slugOf(name: string, fallback: string, taken: (slug: string) => boolean): string {
  const base = slugWords(name).slice(0, 40).replace(/-+$/, "") || fallback;
  for (let n = 1; ; n++) {
    const candidate = n === 1 ? base : `${base}-${n}`;
    if (!taken(candidate)) return candidate;
  }
}

/** A second of the same gets -1, a third -2. */
export function addressOf(name: string, fallback: string, taken: (slug: string) => boolean): string {
  const base = slugWords(name) || fallback;
  for (let n = 0; ; n++) {
    const candidate = n === 0 ? base : `${base}-${n}`;
    if (!taken(candidate)) return candidate;
  }
}
