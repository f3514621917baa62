/** The portal's own words in its language. English is the language that ships; another is a second entry of LANGUAGES. */
import { IntlMessageFormat } from "intl-messageformat";
import { ENGLISH } from "./english";
import { ON_THE_CLIENT } from "./english-client";

export type Catalogue = { readonly [K in keyof typeof ENGLISH]: string };
export type ClientWords = { readonly [K in keyof typeof ON_THE_CLIENT]: string };

/** Names of the values that a message takes: `{days, plural, ...}` takes `days`. Tags count as well. */
type Taken<M extends string> = M extends `${string}{${infer Inner}}${infer Rest}` ? Name<Inner> | Taken<Rest> : never;
type Name<S extends string> = S extends `${infer N},${string}`
  ? Name<N>
  : S extends "" | `${string} ${string}` | `${string}{${string}`
    ? never
    : S;
type Tags<M extends string> = M extends `${string}</${infer T}>${infer Rest}` ? T | Tags<Rest> : never;

type Key = keyof typeof ENGLISH;
type Plain = { readonly [N in string]: string | number };
type Values<K extends Key> = { readonly [N in Taken<(typeof ENGLISH)[K]>]: string | number };
type Marks<K extends Key, T> = { readonly [N in Tags<(typeof ENGLISH)[K]>]: (inside: string) => T };

export interface Say {
  readonly locale: string;
  /** Throws where a value is missing, which does not compile. */
  <K extends Key>(key: K, ...values: Taken<(typeof ENGLISH)[K]> extends never ? [] : [Values<K>]): string;
  /** The message in parts, with what the marks make of their insides. */
  marked<K extends Key, T>(key: K, values: Values<K>, marks: Marks<K, T>): readonly (string | T)[];
}

const LANGUAGES: Readonly<Record<string, Catalogue>> = { en: ENGLISH };

/** By the locale's language, its first subtag (RFC 5646 section 2.1); English where that language is not shipped. */
export function catalogueOf(locale: string, languages = LANGUAGES): Catalogue {
  return languages[locale.toLowerCase().split("-")[0]!] ?? ENGLISH;
}

/** Words of a locale; dates and numbers within them are the locale's, also where its language is not shipped. */
export function makeSay(locale: string, catalogue = catalogueOf(locale)): Say {
  const read = new Map<Key, IntlMessageFormat>();
  const message = (key: Key): IntlMessageFormat => {
    let m = read.get(key);
    if (!m) read.set(key, (m = new IntlMessageFormat(catalogue[key], locale)));
    return m;
  };
  const say = (key: Key, values?: Plain): string => {
    const text = catalogue[key];
    // Most are plain sentences: nothing to read in them.
    return /[{<']/.test(text) ? String(message(key).format(values)) : text;
  };
  const marked = <T>(key: Key, values: Plain, marks: Readonly<Record<string, (inside: string) => T>>): readonly (string | T)[] => {
    const inner = Object.fromEntries(Object.entries(marks).map(([tag, make]) => [tag, (parts: (string | T)[]) => make(parts.join(""))]));
    const parts = message(key).format<T>({ ...values, ...inner } as never);
    return Array.isArray(parts) ? parts : [parts as string | T];
  };
  return Object.assign(say, { locale, marked }) as Say;
}

const said = new Map<string, Say>();

/** The portal's words in this language; English where there are none. */
export function sayIn(locale: string): Say {
  let say = said.get(locale);
  if (!say) said.set(locale, (say = makeSay(locale)));
  return say;
}

/** The words of a locale that the browser needs. */
export const clientWordsIn = (locale: string): ClientWords => {
  const all = catalogueOf(locale);
  return Object.fromEntries((Object.keys(ON_THE_CLIENT) as (keyof ClientWords)[]).map((k) => [k, all[k]])) as ClientWords;
};
