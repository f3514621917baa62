/** Sending mail. What is sent comes from the outbox; a message is known by its key, and sent once however often it is tried. */
import type { Result } from "@/core/result";

export interface Mail {
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html?: string;
  readonly replyTo?: string;
  /** Further headers, by name; of one line each. */
  readonly headers?: Readonly<Record<string, string>>;
}
export interface Delivery {
  /** As the receiving side knows it: a Message-ID (RFC 5322 section 3.6.4). */
  readonly id: string;
}
/** `never` is an address or a message that is refused for good; `later` is worth another try. */
export interface MailError {
  readonly when: "never" | "later";
  /** It is the receiver's address that was refused, not the sender, the message or the whole connection. */
  readonly address?: true;
  readonly message: string;
}

export interface MailChannel {
  readonly id: string;
  send(mail: Mail, key: string): Promise<Result<Delivery, MailError>>;
  /** A sentence if nothing can be sent now. */
  check(): Promise<string | null>;
}

/** The same key gives the same Message-ID, by which receivers drop a second copy. */
export const messageId = (key: string, from: string): string => `<${key}@${from.split("@")[1] ?? "localhost"}>`;
