/** The comparisons of filters. Which make sense for which type of field, the type itself says (`fields/`). */

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
export const OF_WORDS: readonly Operator[] = ["is", "is-not", "contains", "starts-with", "any-of", "none-of", ...EMPTINESS];
export const OF_LONG_WORDS: readonly Operator[] = ["contains", "starts-with", ...EMPTINESS];
export const OF_ORDER: readonly Operator[] = ["is", "is-not", "less-than", "at-most", "more-than", "at-least", "between", ...EMPTINESS];
export const OF_ONE: readonly Operator[] = ["is", "is-not", "any-of", "none-of", ...EMPTINESS];
export const OF_MANY: readonly Operator[] = ["has-any", "has-all", "has-none", ...EMPTINESS];

/** Whether a test by this operator compares with nothing. */
export const takesNoValue = (op: Operator): boolean => op === "is-empty" || op === "is-not-empty";
/** Whether a test by this operator compares with several values. */
export const takesList = (op: Operator): boolean =>
  op === "any-of" || op === "none-of" || op === "has-any" || op === "has-all" || op === "has-none";

/** True for the operators that hold of an empty value: "is not X" is true of nothing at all. */
export const holdsOfEmpty = (op: Operator): boolean => op === "is-not" || op === "none-of" || op === "has-none" || op === "is-empty";

export const OPERATOR_WORDS: Readonly<Record<Operator, string>> = {
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
