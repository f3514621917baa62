/** Mail that goes nowhere: each message is a file in a folder (RFC 5322 headers, then the text), where it can be read. */
import { existsSync } from "node:fs";
import { access, constants, mkdir, rename, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { err, ok } from "@/core/result";
import { type MailChannel, messageId } from "./contract";

const KEY = /^[a-zA-Z0-9_-]{1,100}$/;
const header = (s: string): string => s.replaceAll(/[\r\n]+/g, " ");

export function standInMail(folder: string, from: string): MailChannel {
  return {
    id: "stand-in",
    async send(mail, key) {
      if (!KEY.test(key)) throw new Error(`${JSON.stringify(key)} is no key of a message: letters, digits, - and _.`);
      if (!/^[^\s@]+@[^\s@]+$/.test(mail.to))
        return err({ when: "never", address: true, message: `“${mail.to.slice(0, 80)}” is no e-mail address.` });
      const path = join(folder, `${key}.eml`);
      const id = messageId(key, from);
      if (existsSync(path)) return ok({ id });
      await mkdir(folder, { recursive: true, mode: 0o700 });
      const lines = [`Message-ID: ${id}`, `From: ${header(from)}`, `To: ${header(mail.to)}`, `Subject: ${header(mail.subject)}`];
      if (mail.replyTo) lines.push(`Reply-To: ${header(mail.replyTo)}`);
      for (const [name, value] of Object.entries(mail.headers ?? {})) lines.push(`${header(name)}: ${header(value)}`);
      await writeFile(`${path}.part`, `${lines.join("\r\n")}\r\n\r\n${mail.text}`, { mode: 0o600 });
      await rename(`${path}.part`, path);
      return ok({ id });
    },
    check: async () =>
      mkdir(folder, { recursive: true, mode: 0o700 })
        .then(() => access(folder, constants.W_OK))
        .then(
          () => null,
          () => `${folder} cannot be written to.`,
        ),
  };
}
