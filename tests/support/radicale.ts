/** A server of contacts and calendars of a story's own (Radicale, from Debian's packages): on this machine, in a folder that goes with it. */
import { spawn } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { freePort } from "./server";

export interface Radicale {
  readonly port: number;
  put(path: string, type: string, text: string): Promise<void>;
  get(path: string): Promise<string>;
  stop(): Promise<void>;
}

const auth = `Basic ${Buffer.from("elkhorn:reads-only").toString("base64")}`;

/** The user is "elkhorn" with the password "reads-only"; there are an address book "clients" and a calendar "visits". */
export async function startRadicale(): Promise<Radicale> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-radicale-"));
  const port = await freePort();
  writeFileSync(join(folder, "users"), "elkhorn:reads-only\n");
  writeFileSync(
    join(folder, "config"),
    `[server]\nhosts = 127.0.0.1:${port}\n[auth]\ntype = htpasswd\nhtpasswd_filename = ${join(folder, "users")}\nhtpasswd_encryption = plain\ndelay = 0\n[storage]\nfilesystem_folder = ${join(folder, "data")}\n[logging]\nlevel = error\n`,
  );
  for (const [name, tag] of [
    ["clients", "VADDRESSBOOK"],
    ["visits", "VCALENDAR"],
  ] as const) {
    const at = join(folder, "data/collection-root/elkhorn", name);
    mkdirSync(at, { recursive: true });
    writeFileSync(join(at, ".Radicale.props"), JSON.stringify({ tag, "D:displayname": name }));
  }
  const server = spawn("/usr/bin/radicale", ["--config", join(folder, "config")], { cwd: folder, stdio: "ignore" });
  const at = (path: string): string => `http://127.0.0.1:${port}/elkhorn/${path}`;
  for (let tries = 0; ; tries++)
    try {
      await fetch(at(""), { headers: { authorization: auth } });
      break;
    } catch (e) {
      if (tries > 100) throw e;
      await new Promise((r) => setTimeout(r, 100));
    }
  return {
    port,
    put: async (path, type, body) => {
      const answer = await fetch(at(path), { method: "PUT", headers: { authorization: auth, "content-type": type }, body });
      if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
    },
    get: async (path) => (await fetch(at(path), { headers: { authorization: auth } })).text(),
    stop: async () => {
      const ended = new Promise((done) => server.once("exit", done));
      server.kill("SIGTERM");
      await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
