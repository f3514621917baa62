/** What columns of lists are headed by (common practice, no source). */
import { fold } from "../text/fold";

/** As headings are compared: without case, "_" and "-" and "." as spaces. */
export const headingKey = (name: string): string =>
  fold(name)
    .replace(/[_.\-\s]+/g, " ")
    .trim();

const FIRST = ["first name", "first names", "given name", "given names", "christian name", "forename", "forenames"];
const LAST = ["last name", "last names", "surname", "surnames", "family name"];

/** A name in two columns: first name and last name. */
export const headsFirstName = (heading: string): boolean => FIRST.includes(headingKey(heading));
/** Whether a column so called holds last names. */
export const headsLastName = (heading: string): boolean => LAST.includes(headingKey(heading));
