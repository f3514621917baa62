/** What the stand-ins have sent: mail and SMS of one server. */
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";

const filesIn = (folder: string, end: string): string[] =>
  (existsSync(folder) ? readdirSync(folder) : [])
    .filter((f) => f.endsWith(end))
    .map((f) => readFileSync(join(folder, f), "utf8"))
    .reverse();

/** To somebody, the last first. */
export const mailTo = (data: string, email: string): string[] =>
  filesIn(join(data, "mail"), ".eml").filter((m) => m.includes(`To: ${email}`));
const smsTo = (data: string, number: string): string[] => filesIn(join(data, "sms"), ".json").filter((m) => m.includes(`"${number}"`));

async function comesTo(find: () => string[], from: number, who: string): Promise<string> {
  for (const end = Date.now() + 15_000; Date.now() < end; await new Promise((r) => setTimeout(r, 100))) {
    const found = find();
    if (found.length > from) return found[0]!;
  }
  throw new Error(`Nothing came to ${who}.`);
}
export const mailComes = (data: string, email: string, from = 0): Promise<string> => comesTo(() => mailTo(data, email), from, email);
export const smsComes = (data: string, number: string, from = 0): Promise<string> => comesTo(() => smsTo(data, number), from, number);

export const linkIn = (mail: string): string => /https?:\/\/\S+\/link\/\S+/.exec(mail)![0];
export const codeIn = (message: string): string => /\b\d{3} \d{3}\b/.exec(message)![0];
/** Waits until a mail to them says this. */
export async function mailSays(data: string, email: string, words: string): Promise<void> {
  const says = (mail: string): boolean =>
    mail
      .replace(/=\r?\n/g, "")
      .replace(/\s+/g, " ")
      .includes(words);
  await comesTo(() => mailTo(data, email).filter(says), 0, `${email} that says “${words}”`);
}
