/** One of the field's choices, or several of them. Rows hold the ids of choices; people and programs read and write their words. */
import { err, ok, type Result } from "../../result";
import { fold } from "../../text/fold";
import { shortened } from "../../text/shortened";
import { OF_MANY, OF_ONE } from "../operators";
import type { Value } from "../value";
import { type FieldKind, type Having, type Of, sole } from "./kind";

type Options = Having<"choices">;

/** By id, by its words, or by its words without regard to case: in this order. */
export function findChoice(f: Of<Options>, text: string): string | undefined {
  const { choices } = f.options;
  return (
    choices.find((c) => c.id === text) ??
    choices.find((c) => c.name === text) ??
    choices.find((c) => fold(c.name) === fold(text.normalize("NFC")))
  )?.id;
}
/** The choice that was called so before, where one alone was. */
export function formerChoice(f: Of<Options>, text: string): string | undefined {
  const called = f.options.choices.filter((c) => c.former?.some((n) => fold(n) === fold(text.normalize("NFC"))));
  return called.length === 1 ? called[0]!.id : undefined;
}
const allNames = (f: Of<Options>): string => f.options.choices.map((c) => c.name).join(", ");

function read(f: Of<Options>, text: string): Result<string, string> {
  const id = findChoice(f, text);
  return id === undefined ? err(`“${shortened(text)}” is not one of: ${allNames(f)}.`) : ok(id);
}
const nameOf = (f: Of<Options>, id: unknown): string => f.options.choices.find((c) => c.id === id)?.name ?? String(id);
const namesOf = (f: Of<Options>, v: unknown): string[] => (v as readonly string[]).map((id) => nameOf(f, id));

/** What a cell names, known or not: all of it, or each of several. */
export const wordsOfChoices = (f: Of<Options>, many: boolean, text: string): string[] =>
  text.trim() === "" ? [] : many ? parts(f, text) : [text.trim()];

/** "Oak, oiled; Slate" is two choices where one is called "Oak, oiled"; commas part what is no choice as a whole. */
function parts(f: Of<Options>, text: string): string[] {
  if (findChoice(f, text.trim()) !== undefined) return [text.trim()];
  const split = (t: string, by: string): string[] =>
    t
      .split(by)
      .map((p) => p.trim())
      .filter(Boolean);
  return split(text, ";").flatMap((p) => (findChoice(f, p) !== undefined ? [p] : split(p, ",")));
}

function readAll(f: Of<Options>, texts: readonly string[]): Result<Value, string> {
  const ids = new Set<string>();
  for (const t of texts) {
    const one = read(f, t);
    if (!one.ok) return one;
    ids.add(one.value);
  }
  return ok([...ids]);
}

const shared = {
  folds: false,
  numeric: false,
  literal: "string",
  options: (given: { choices?: Options["choices"] }): Options => ({ choices: given.choices ?? [] }),
  literalWords: (v: unknown, f: Of<Options>) => `“${nameOf(f, v)}”`,
  offers: (f: Of<Options>) => f.options.choices.map((c) => ({ value: c.id, label: c.name })),
} as const;

export const choice: FieldKind<Options> = {
  ...shared,
  name: "Choice",
  operators: OF_ONE,
  many: null,
  sortable: true,
  groupable: true,
  importable: true,
  parse: (texts, f) => (sole(texts).trim() === "" ? ok(null) : read(f, sole(texts).trim())),
  texts: (v) => [String(v)],
  fromJson: (v, f) =>
    typeof v === "string" ? (v.trim() === "" ? ok(null) : read(f, v.trim())) : err(`This must be one of: ${allNames(f)}.`),
  toJson: (v, f) => nameOf(f, v),
  jsonSchema: (f) => ({ enum: [...f.options.choices.map((c) => c.name), null] }),
  words: (v, f) => nameOf(f, v),
  cell: (v, f) => nameOf(f, v),
  // Choices are few and known: those whose words fit, found without regard to case like any text.
  search: (words, f) => {
    const value = f.options.choices.filter((c) => fold(c.name).includes(fold(words))).map((c) => c.id);
    return value.length > 0 ? { operator: "any-of", value } : null;
  },
};

export const choices: FieldKind<Options> = {
  ...shared,
  name: "Several choices",
  operators: OF_MANY,
  many: "choice",
  sortable: false,
  groupable: false,
  importable: true,
  // One text is a cell, which may name several; several texts are one each, whatever signs they hold.
  parse: (texts, f) => readAll(f, texts.length === 1 ? parts(f, texts[0]!) : texts.filter((t) => t.trim() !== "").map((t) => t.trim())),
  texts: (v) => [...(v as readonly string[])],
  fromJson: (v, f) => {
    if (!Array.isArray(v) || v.length > 500) return err("This must be a list of at most 500.");
    return v.every((x): x is string => typeof x === "string") ? readAll(f, v) : err("Each item must be text.");
  },
  toJson: (v, f) => namesOf(f, v),
  jsonSchema: (f) => ({ type: "array", items: { enum: f.options.choices.map((c) => c.name) } }),
  words: (v, f) => namesOf(f, v).join(", "),
  cell: (v, f) => namesOf(f, v).join("; "),
};
