/** Readable addresses. Scripts that transliterate to nothing get a numbered fallback instead of an empty address. */
import slugify from "@sindresorhus/slugify";

export function slugOf(name: string, fallback: string, taken: (slug: string) => boolean): string {
  const base = slugify(name).slice(0, 40).replace(/-+$/, "") || fallback;
  for (let n = 1; ; n++) {
    const candidate = n === 1 ? base : `${base}-${n}`;
    if (!taken(candidate)) return candidate;
  }
}
