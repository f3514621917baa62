/** A form as it was sent: its fields, and the two answers it can get. */
import type { z } from "zod";
import { type FormState, failed, NEW_FORM, succeeded } from "./form";

export class SentForm {
  private readonly before: FormState;

  /** @param before what the form showed; it comes back from the browser, so nothing is decided by it */
  constructor(
    before: FormState,
    readonly data: FormData,
  ) {
    const count = (n: unknown): number => (Number.isSafeInteger(n) ? (n as number) : 0);
    this.before = { ...NEW_FORM, turn: count(before?.turn), successes: count(before?.successes) };
  }

  /** The text of one field, at most so many characters; "" where it was not sent. */
  text(name: string, most = 2_000): string {
    const sent = this.data.get(name);
    return typeof sent === "string" ? sent.slice(0, most) : "";
  }

  /** All texts of a field that can have several. */
  all(name: string): string[] {
    return this.data.getAll(name).filter((v): v is string => typeof v === "string");
  }

  ticked(name: string): boolean {
    return this.data.get(name) === "on";
  }

  /** All text fields, read by a schema of an object; or the answer with a sentence beside each field that is wrong. */
  read<S extends z.ZodObject>(schema: S): { ok: true; value: z.output<S> } | { ok: false; answer: FormState } {
    const read = schema.safeParse(Object.fromEntries(this.data));
    if (read.success) return { ok: true, value: read.data };
    return { ok: false, answer: this.failed(Object.fromEntries(read.error.issues.map((i) => [String(i.path[0]), i.message]))) };
  }

  /** @param errors sentences by the names of their fields; @param message over the whole form */
  failed(errors: Readonly<Record<string, string>>, message?: string): FormState {
    return failed(this.before, this.data, errors, message);
  }

  succeeded(done: string): FormState {
    return succeeded(this.before, done);
  }
}
