/** A MariaDB server of a story's own, from Debian's packages: on this machine, in a folder that goes with it. */
import { execFileSync, spawn } from "node:child_process";
import { chownSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createConnection } from "mysql2/promise";
import { freePort } from "./server";

export interface Maria {
  readonly port: number;
  query(sql: string): Promise<void>;
  stop(): Promise<void>;
}

/** The server does not like to be root: then it is nobody (by their number on Debian). */
const who = process.getuid?.() === 0 ? { uid: 65_534, gid: 65_534 } : {};

/** Its owner is "elkhorn", with the password "reads-only"; the database is "records". */
export async function startMaria(): Promise<Maria> {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-mariadb-"));
  if (who.uid) chownSync(folder, who.uid, who.gid!);
  const data = join(folder, "data");
  const installed = ["--no-defaults", `--datadir=${data}`, "--auth-root-authentication-method=normal", "--skip-test-db"];
  execFileSync("/usr/bin/mariadb-install-db", installed, { ...who, cwd: folder, stdio: "ignore" });
  const port = await freePort();
  const socket = join(folder, "socket");
  const server = spawn(
    "/usr/sbin/mariadbd",
    [
      "--no-defaults",
      `--datadir=${data}`,
      `--port=${port}`,
      "--bind-address=127.0.0.1",
      `--socket=${socket}`,
      "--innodb-flush-log-at-trx-commit=0",
    ],
    { ...who, cwd: folder, stdio: "ignore" },
  );
  const ask = async (sql: readonly string[], to: { socketPath: string; user: string } | null): Promise<void> => {
    const login = to ?? { host: "127.0.0.1", port, user: "elkhorn", password: "reads-only", database: "records" };
    const c = await createConnection(login);
    try {
      for (const one of sql) await c.query(one);
    } finally {
      await c.end();
    }
  };
  for (let tries = 0; ; tries++)
    try {
      await ask(["CREATE DATABASE records", "CREATE USER elkhorn IDENTIFIED BY 'reads-only'", "GRANT ALL ON records.* TO elkhorn"], {
        socketPath: socket,
        user: "root",
      });
      break;
    } catch (e) {
      if (tries > 100) throw e;
      await new Promise((r) => setTimeout(r, 100));
    }
  return {
    port,
    query: (sql) => ask([sql], null),
    stop: async () => {
      const ended = new Promise((done) => server.once("exit", done));
      server.kill("SIGTERM");
      await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
