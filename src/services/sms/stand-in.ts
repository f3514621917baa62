/** A telephone that is none: each message is a file in a folder, read on the page of the stand-in telephone. */
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { mkdir, rename, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { err, ok } from "@/core/result";
import { isNumber, type SmsChannel } from "./contract";

const KEY = /^[a-zA-Z0-9_-]{1,100}$/;

export function standInSms(folder: string): SmsChannel {
  return {
    id: "stand-in",
    async send(sms, key) {
      if (!KEY.test(key)) throw new Error(`${JSON.stringify(key)} is no key of a message: letters, digits, - and _.`);
      if (!isNumber(sms.to)) return err({ when: "never", message: `“${sms.to.slice(0, 40)}” is no telephone number.` });
      const path = join(folder, `${key}.json`);
      if (existsSync(path)) return ok({ id: key });
      await mkdir(folder, { recursive: true, mode: 0o700 });
      await writeFile(`${path}.part`, JSON.stringify({ to: sms.to, text: sms.text }), { mode: 0o600 });
      await rename(`${path}.part`, path);
      return ok({ id: key });
    },
  };
}

export interface Arrived {
  readonly to: string;
  readonly text: string;
  readonly at: number;
}

/** What came last, for one number where one is asked for. */
export function arrivedIn(folder: string, to: string | null, most = 50): Arrived[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .filter((f) => f.endsWith(".json"))
    .map((f) => ({
      ...(JSON.parse(readFileSync(join(folder, f), "utf8")) as { to: string; text: string }),
      at: statSync(join(folder, f)).mtimeMs,
    }))
    .filter((m) => to === null || m.to === to)
    .sort((a, b) => b.at - a.at)
    .slice(0, most);
}
