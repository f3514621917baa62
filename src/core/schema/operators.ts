/** Which comparisons make sense for which type of field. The editor offers these and the parsers accept no others. */
import type { FieldType } from "./types";

export const OPERATORS = [
  "is",
  "is-not",
  "contains",
  "starts-with",
  "is-empty",
  "is-not-empty",
  "less-than",
  "at-most",
  "more-than",
  "at-least",
  "between",
  "any-of",
  "none-of",
  "has-any",
  "has-all",
  "has-none",
] as const;
export type Operator = (typeof OPERATORS)[number];

const EMPTINESS = ["is-empty", "is-not-empty"] as const;
const ORDERED = ["is", "is-not", "less-than", "at-most", "more-than", "at-least", "between", ...EMPTINESS] as const;
const MANY = ["has-any", "has-all", "has-none", ...EMPTINESS] as const;

const BY_TYPE: Record<FieldType, readonly Operator[]> = {
  text: ["is", "is-not", "contains", "starts-with", "any-of", "none-of", ...EMPTINESS],
  "long-text": ["contains", "starts-with", ...EMPTINESS],
  number: ORDERED,
  money: ORDERED,
  date: ORDERED,
  "yes-no": ["is"],
  choice: ["is", "is-not", "any-of", "none-of", ...EMPTINESS],
  choices: MANY,
  relation: ["is", "is-not", "any-of", "none-of", ...EMPTINESS],
  relations: MANY,
};

export const operatorsFor = (type: FieldType): readonly Operator[] => BY_TYPE[type];

export const takesNoValue = (op: Operator): boolean => op === "is-empty" || op === "is-not-empty";
export const takesList = (op: Operator): boolean =>
  op === "any-of" || op === "none-of" || op === "has-any" || op === "has-all" || op === "has-none";

/** True for the operators that hold of an empty value: "is not X" is true of nothing at all. */
export const holdsOfEmpty = (op: Operator): boolean => op === "is-not" || op === "none-of" || op === "has-none" || op === "is-empty";

const DATE_WORDS: Partial<Record<Operator, string>> = {
  "less-than": "is before",
  "at-most": "is on or before",
  "more-than": "is after",
  "at-least": "is on or after",
};
const WORDS: Record<Operator, string> = {
  is: "is",
  "is-not": "is not",
  contains: "contains",
  "starts-with": "starts with",
  "is-empty": "is empty",
  "is-not-empty": "is not empty",
  "less-than": "is less than",
  "at-most": "is at most",
  "more-than": "is more than",
  "at-least": "is at least",
  between: "is between",
  "any-of": "is any of",
  "none-of": "is none of",
  "has-any": "has any of",
  "has-all": "has all of",
  "has-none": "has none of",
};

export const operatorWords = (op: Operator, type: FieldType): string => (type === "date" && DATE_WORDS[op]) || WORDS[op];
