import pluralize from "pluralize";

/** What one of them is called, where the name is English; a guess, which can be changed. Only the last word is looked at. */
export const singularOf = (name: string): string => name.replace(/[A-Za-z]+(?=[^A-Za-z]*$)/, (word) => pluralize.singular(word));
