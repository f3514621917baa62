/** Sending SMS. What is sent comes from the outbox; a message is known by its key, and sent once however often it is tried. */
import type { Result } from "@/core/result";

export interface Sms {
  /** E.164 (ITU-T), with its plus: +442079460018. */
  readonly to: string;
  readonly text: string;
}
/** `never` is a number or a message that is refused for good; `later` is worth another try. */
export interface SmsError {
  readonly when: "never" | "later";
  readonly message: string;
}

export interface SmsChannel {
  readonly id: string;
  send(sms: Sms, key: string): Promise<Result<{ readonly id: string }, SmsError>>;
}

/** At most fifteen digits, the first of them no zero. */
export const isNumber = (to: string): boolean => /^\+[1-9]\d{6,14}$/.test(to);
