/** What a field holds. Empty is null; an empty list is [] and counts as empty. */

/**
 * Dates are `YYYY-MM-DD`; money is in minor units; numbers are scaled by their field's decimals, so that nothing a person typed is
 * ever a float; choices and relations are ids.
 */
export type Scalar = string | number | boolean;
export type Value = Scalar | readonly string[] | null;
export type Values = Readonly<Record<string, Value>>;

export const isEmpty = (v: Value | undefined): boolean => v === null || v === undefined || v === "" || (Array.isArray(v) && v.length === 0);
