/** What an action takes from its page: read by schemas before anything is done with it, as anybody can send anything. */
import { z } from "zod";
import { RefusedWrite } from "./refused-write";

/** A schema for each argument that is sent, in order. */
export type Takes = readonly z.ZodType[];
export type Sent<T extends Takes> = { [I in keyof T]: z.input<T[I]> };
export type Given<T extends Takes> = { [I in keyof T]: z.output<T[I]> };

/** An id, a name in an address, a choice from a list. */
export const word = z.string().max(300);
/** What a person typed or a page kept: as long as a long list of records. */
export const text = z.string().max(2_000_000);
export const whole = z.int();
export const yes = z.boolean();
/** Ids of what was ticked. */
export const words = z.array(word).max(100_000).readonly();

/** For what a schema has no sentence of its own. */
const sentenceFor = (issue: z.core.$ZodRawIssue): string => {
  if (issue.code === "too_big" && issue.origin === "string") return `Use at most ${issue.maximum} characters.`;
  if (issue.code === "too_big" && issue.origin === "array") return `Choose at most ${issue.maximum}.`;
  return "This could not be read. Load the page again.";
};

/** Something that a page holds as JSON text until it is sent back. */
export const jsonOf = <S extends z.ZodType>(schema: S) =>
  text
    .transform((t, context): unknown => {
      try {
        return JSON.parse(t);
      } catch {
        context.addIssue("This could not be read. Load the page again.");
        return z.NEVER;
      }
    })
    .pipe(schema);

/** @returns what was sent, read, or up to five sentences that say what is wrong with it, without repeats */
export function readSent<T extends Takes>(
  takes: T,
  sent: readonly unknown[],
): { ok: true; value: Given<T> } | { ok: false; messages: string[] } {
  const read = takes.map((schema, i) => schema.safeParse(sent[i], { error: sentenceFor }));
  const wrong = read.flatMap((r) => (r.success ? [] : r.error.issues.map((i) => i.message)));
  if (wrong.length > 0) return { ok: false, messages: [...new Set(wrong)].slice(0, 5) };
  return { ok: true, value: read.map((r) => r.data) as Given<T> };
}

/** The same of one thing. */
export function readOne<S extends z.ZodType>(
  schema: S,
  sent: unknown,
): { ok: true; value: z.output<S> } | { ok: false; messages: string[] } {
  const read = readSent<[S]>([schema], [sent]);
  return read.ok ? { ok: true, value: read.value[0] } : read;
}

/**
 * For actions that answer with a value alone, and so have no place for a sentence.
 *
 * @throws RefusedWrite where something else was sent than their pages send
 */
export function readOrRefuse<T extends Takes>(takes: T, sent: readonly unknown[]): Given<T> {
  const read = readSent(takes, sent);
  if (!read.ok) throw new RefusedWrite("This could not be read.");
  return read.value;
}
