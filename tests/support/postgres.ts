/** A PostgreSQL server of a story's own, from Debian's packages: on this machine, in a folder that goes with it. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { chownSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Client } from "pg";
import { freePort } from "./server";

const VERSIONS = "/usr/lib/postgresql";

export interface Postgres {
  readonly port: number;
  query(sql: string): Promise<void>;
  stop(): Promise<void>;
}

/** The server refuses to be root: then it is nobody (by their number on Debian). */
const who = process.getuid?.() === 0 ? { uid: 65_534, gid: 65_534 } : {};

/** Its owner is "elkhorn", with the password "reads-only"; the database is "records". */
export async function startPostgres(): Promise<Postgres> {
  const bin = join(VERSIONS, readdirSync(VERSIONS).sort().at(-1)!, "bin");
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-postgres-"));
  if (who.uid) chownSync(folder, who.uid, who.gid!);
  const data = join(folder, "data");
  execFileSync(join(bin, "initdb"), ["-D", data, "-U", "elkhorn", "-A", "trust", "-E", "UTF8", "--no-sync"], {
    ...who,
    cwd: folder,
    stdio: "ignore",
  });
  const port = await freePort();
  const server: ChildProcess = spawn(
    join(bin, "postgres"),
    ["-D", data, "-p", String(port), "-k", folder, "-c", "listen_addresses=127.0.0.1", "-c", "fsync=off"],
    { ...who, cwd: folder, stdio: "ignore" },
  );
  const ask = async (database: string, sql: string): Promise<void> => {
    const client = new Client({ host: "127.0.0.1", port, user: "elkhorn", database });
    await client.connect();
    try {
      await client.query(sql);
    } finally {
      await client.end();
    }
  };
  for (let tries = 0; ; tries++)
    try {
      await ask("postgres", "CREATE DATABASE records");
      break;
    } catch (e) {
      if (tries > 100) throw e;
      await new Promise((r) => setTimeout(r, 100));
    }
  return {
    port,
    query: (sql) => ask("records", sql),
    stop: async () => {
      const ended = new Promise((done) => server.once("exit", done));
      server.kill("SIGINT");
      await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
