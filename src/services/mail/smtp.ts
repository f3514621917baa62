/** Mail by SMTP (RFC 5321), through nodemailer. */
import nodemailer from "nodemailer";
import { err, ok } from "@/core/result";
import { type MailChannel, messageId } from "./contract";

/** Milliseconds: a mail server that says nothing for so long is not there. */
const PATIENCE = 15_000;

export function smtpMail(url: string, from: string): MailChannel {
  const transport = nodemailer.createTransport(url, {
    connectionTimeout: PATIENCE,
    greetingTimeout: PATIENCE,
    socketTimeout: PATIENCE,
  } as never);
  const words = (e: unknown): string => (e instanceof Error ? e.message : String(e));
  return {
    id: "smtp",
    async send(mail, key) {
      try {
        const sent = await transport.sendMail({ ...mail, from, messageId: messageId(key, from) });
        return ok({ id: sent.messageId });
      } catch (e) {
        // 5yz is a permanent refusal, 4yz a transient one (RFC 5321 section 4.2.1).
        const { responseCode: code = 0, command } = e as { responseCode?: number; command?: string };
        const when = code >= 500 ? "never" : "later";
        return err({ when, ...(when === "never" && command === "RCPT TO" ? { address: true as const } : {}), message: words(e) });
      }
    },
    check: () => transport.verify().then(() => null, words),
  };
}
