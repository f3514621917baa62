/**
 * What each type of field is by nature, and the questions that everybody asks of it. Whoever needs to know asks a question here, and never
 * compares the name of a type: a new type has its line in this table, or it does not compile. Plain data, so that a browser may ask, too.
 */
export type Nature =
  /** Words: a line, several lines, or an address of a kind. */
  | { readonly is: "text"; readonly of: "line" | "lines" | "email" | "telephone" | "web" }
  /** What sums make sense of. */
  | { readonly is: "figure"; readonly of: "number" | "money" | "percent" }
  | { readonly is: "date"; readonly of: "day" | "moment" }
  | { readonly is: "yes-no" }
  /** One of the field's own choices, or several. */
  | { readonly is: "choice"; readonly of: "one" | "several" }
  /** Points to one record of another table, or to several. */
  | { readonly is: "relation"; readonly of: "one" | "several" }
  | { readonly is: "files"; readonly of: "any" | "pictures" }
  /** Filled in by Elkhorn: counted up, or made from another field. */
  | { readonly is: "automatic"; readonly of: "counted" | "from-another" };

export const NATURES = {
  text: { is: "text", of: "line" },
  "long-text": { is: "text", of: "lines" },
  number: { is: "figure", of: "number" },
  money: { is: "figure", of: "money" },
  percent: { is: "figure", of: "percent" },
  date: { is: "date", of: "day" },
  "date-time": { is: "date", of: "moment" },
  email: { is: "text", of: "email" },
  telephone: { is: "text", of: "telephone" },
  "web-address": { is: "text", of: "web" },
  serial: { is: "automatic", of: "counted" },
  "readable-address": { is: "automatic", of: "from-another" },
  "yes-no": { is: "yes-no" },
  choice: { is: "choice", of: "one" },
  choices: { is: "choice", of: "several" },
  relation: { is: "relation", of: "one" },
  relations: { is: "relation", of: "several" },
  files: { is: "files", of: "any" },
  pictures: { is: "files", of: "pictures" },
} as const satisfies Record<string, Nature>;

export type FieldType = keyof typeof NATURES;

/** Names of types that have this nature. */
type Being<N extends Nature> = { [T in FieldType]: (typeof NATURES)[T] extends N ? T : never }[FieldType];
/** A field, or anything with a type of field. Any other name, as of a type that is still to be chosen, has no nature: every answer is no. */
interface Typed {
  readonly type: string;
}
const natureOf = (f: Typed): Nature | undefined => (Object.hasOwn(NATURES, f.type) ? NATURES[f.type as FieldType] : undefined);

/** The question whether a field is of this nature: its answer narrows the field to the types that are. */
function whether<N extends Nature>(is: N["is"], of?: string): <F extends Typed>(f: F) => f is F & { readonly type: Being<N> } {
  return <F extends Typed>(f: F): f is F & { readonly type: Being<N> } => {
    const n = natureOf(f);
    return n?.is === is && (of === undefined || ("of" in n && n.of === of));
  };
}

export const isRelation = whether<{ is: "relation"; of: "one" | "several" }>("relation");
export const pointsToOne = whether<{ is: "relation"; of: "one" }>("relation", "one");
export const pointsToSeveral = whether<{ is: "relation"; of: "several" }>("relation", "several");
export const hasChoices = whether<{ is: "choice"; of: "one" | "several" }>("choice");
export const choosesOne = whether<{ is: "choice"; of: "one" }>("choice", "one");
export const choosesSeveral = whether<{ is: "choice"; of: "several" }>("choice", "several");
export const isDated = whether<{ is: "date"; of: "day" | "moment" }>("date");
export const isDay = whether<{ is: "date"; of: "day" }>("date", "day");
export const isMoment = whether<{ is: "date"; of: "moment" }>("date", "moment");
export const isSummed = whether<{ is: "figure"; of: "number" | "money" | "percent" }>("figure");
export const isNumber = whether<{ is: "figure"; of: "number" }>("figure", "number");
export const isMoney = whether<{ is: "figure"; of: "money" }>("figure", "money");
export const isPercent = whether<{ is: "figure"; of: "percent" }>("figure", "percent");
export const isYesNo = whether<{ is: "yes-no" }>("yes-no");
export const holdsFiles = whether<{ is: "files"; of: "any" | "pictures" }>("files");
export const holdsPictures = whether<{ is: "files"; of: "pictures" }>("files", "pictures");
export const isAutomatic = whether<{ is: "automatic"; of: "counted" | "from-another" }>("automatic");
export const isCounted = whether<{ is: "automatic"; of: "counted" }>("automatic", "counted");
export const isMadeFromAnother = whether<{ is: "automatic"; of: "from-another" }>("automatic", "from-another");
export const isLine = whether<{ is: "text"; of: "line" }>("text", "line");
export const isLongText = whether<{ is: "text"; of: "lines" }>("text", "lines");
/** Whether a field holds words without a form of their own, in one line or several. */
export const isFreeText = (f: Typed): boolean => isLine(f) || isLongText(f);
export const holdsEmail = whether<{ is: "text"; of: "email" }>("text", "email");
export const holdsTelephone = whether<{ is: "text"; of: "telephone" }>("text", "telephone");
export const holdsWebAddress = whether<{ is: "text"; of: "web" }>("text", "web");
/** Digits after the point are the field's own to say; money has those of its currency. */
export const hasDecimals = (f: Typed): boolean => isNumber(f) || isPercent(f);
/** Words of any kind: a line, several, or an address. */
export const isWords = whether<{ is: "text"; of: "line" | "lines" | "email" | "telephone" | "web" }>("text");
/** Whether counts by it make sense: few different values, or days. */
export const isGrouped = (f: Typed): boolean => choosesOne(f) || isYesNo(f) || pointsToOne(f) || isDated(f);
