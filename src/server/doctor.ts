/** What is missing or wrong with an installation, a line each; ends with 1 where something is broken. Writes nothing but its trial mail. */
import { existsSync, statfsSync } from "node:fs";
import { join } from "node:path";
import { type Config, ConfigError, readConfig } from "@/config";
import { newId } from "@/data/file/ids";
import Database from "@/data/file/sqlite";
import { mailOf } from "@/services/mail";

type Level = "good" | "look" | "broken";
interface Line {
  readonly level: Level;
  readonly about: string;
  readonly says: string;
}
const line = (level: Level, about: string, says: string): Line => ({ level, about, says });
const LEAST_FREE = 1024 ** 3;

function settings(): { config: Config | null; lines: Line[] } {
  try {
    const c = readConfig(process.env);
    const local = /^(localhost|127\.|\[::1\])/.test(c.address.hostname) || c.address.hostname.endsWith(".localhost");
    if (c.secure || local) return { config: c, lines: [line("good", "address", c.address.origin)] };
    return {
      config: c,
      lines: [line("look", "address", `${c.address.origin} is not https: passwords and sessions cross the network in the clear.`)],
    };
  } catch (e) {
    if (!(e instanceof ConfigError)) throw e;
    return { config: null, lines: e.message.split("\n").map((m) => line("broken", "setting", m)) };
  }
}

function disk(c: Config): Line[] {
  if (!existsSync(c.data)) return [line("look", "data", `${c.data} is not there yet; the first start makes it.`)];
  const { bavail, bsize } = statfsSync(c.data);
  const free = bavail * bsize;
  const words = `${(free / 1024 ** 3).toFixed(1)} GB free at ${c.data}`;
  return [line(free < LEAST_FREE ? "broken" : "good", "disk", words)];
}

function files(c: Config): Line[] {
  const path = join(c.data, "elkhorn.db");
  if (!existsSync(path)) return [];
  const control = new Database(path, { readonly: true });
  try {
    const owners = control.prepare("SELECT count(*) FROM staff").pluck().get() as number;
    const portals = control.prepare("SELECT id, slug FROM portals ORDER BY slug").all() as { id: string; slug: string }[];
    const account =
      owners > 0
        ? line("good", "account", `${owners} in the back office`)
        : line("look", "account", "none yet: the server prints a code to make the first");
    return [account, ...portals.flatMap((p) => portal(c, p))];
  } finally {
    control.close();
  }
}

function portal(c: Config, p: { id: string; slug: string }): Line[] {
  const path = join(c.data, "portals", `${p.id}.db`);
  if (!existsSync(path)) return [line("broken", p.slug, `its file ${path} is gone; bring it back from a copy`)];
  const db = new Database(path, { readonly: true });
  try {
    const found = db.pragma("quick_check(1)", { simple: true }) as string;
    const newest = (db.prepare("SELECT max(at) FROM sys_events").pluck().get() as number | null) ?? 0;
    const ahead = newest - Date.now() > 60_000;
    const failed = db.prepare("SELECT count(*) FROM sys_jobs WHERE state = 'failed'").pluck().get() as number;
    return [
      found === "ok" ? line("good", p.slug, "its file is whole") : line("broken", p.slug, `its file is damaged: ${found}`),
      ...(ahead ? [line("broken", "clock", `${p.slug} has an event of ${new Date(newest).toISOString()}, which is still to come`)] : []),
      ...(failed > 0 ? [line("look", p.slug, `${failed} jobs were given up`)] : []),
    ];
  } catch (e) {
    return [line("look", p.slug, `was written by an older Elkhorn, or cannot be read: ${e instanceof Error ? e.message : e}`)];
  } finally {
    db.close();
  }
}

async function mail(c: Config, to: string | undefined): Promise<Line[]> {
  const channel = mailOf(c);
  const problem = await channel.check();
  const where = c.mail.via === "stand-in" ? "written into the data folder, not sent" : "by SMTP";
  if (problem) return [line("broken", "mail", problem)];
  if (!to) return [line(c.mail.via === "stand-in" ? "look" : "good", "mail", where)];
  const sent = await channel.send(
    { to, subject: "Elkhorn: a trial message", text: "Mail from this installation arrives." },
    `trial-${newId()}`,
  );
  return [sent.ok ? line("good", "mail", `a trial message to ${to} was taken (${where})`) : line("broken", "mail", sent.error.message)];
}

const { config, lines } = settings();
const all = [line("good", "Node", process.version), ...lines];
if (config) all.push(...disk(config), ...files(config), ...(await mail(config, process.argv[2])));
all.push(
  line("look", "backup", "none is made by Elkhorn yet: copy the data folder while it is stopped, or each file with sqlite3's .backup"),
);
const SIGN: Record<Level, string> = { good: "  ok    ", look: "  look  ", broken: "  WRONG " };
for (const l of all) console.log(`${SIGN[l.level]} ${l.about.padEnd(10)} ${l.says}`);
const broken = all.filter((l) => l.level === "broken").length;
console.log(broken === 0 ? "\nNothing is broken." : `\n${broken} ${broken === 1 ? "thing is" : "things are"} broken.`);
process.exit(broken === 0 ? 0 : 1);
