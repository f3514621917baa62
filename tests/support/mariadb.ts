/** A MariaDB server of a story's own, from Debian's packages: on this machine, in a folder that goes with it. */
import { execFileSync, spawn } from "node:child_process";
import { chownSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createConnection } from "mysql2/promise";
import { generate } from "selfsigned";
import { freePort } from "./server";

export interface Maria {
  readonly port: number;
  query(sql: string): Promise<void>;
  stop(): Promise<void>;
}

/** The server does not like to be root: then it is nobody (by their number on Debian). */
const who = process.getuid?.() === 0 ? { uid: 65_534, gid: 65_534 } : {};

/** A certificate of its own, which nobody trusts; then it takes encrypted connections alone. */
async function certificateIn(folder: string): Promise<string[]> {
  const { cert, private: key } = await generate([{ name: "commonName", value: "localhost" }], { keySize: 2048, algorithm: "sha256" });
  const options = Object.entries({ cert, key }).map(([name, text]) => {
    const path = join(folder, `${name}.pem`);
    writeFileSync(path, text, { mode: 0o600 });
    if (who.uid) chownSync(path, who.uid, who.gid!);
    return `--ssl-${name}=${path}`;
  });
  return [...options, "--require-secure-transport=ON"];
}

/** Its owner is "elkhorn", with the password "reads-only"; the database is "records". */
export async function startMaria({ encrypted = false } = {}): Promise<Maria> {
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
      ...(encrypted ? await certificateIn(folder) : []),
    ],
    { ...who, cwd: folder, stdio: "ignore" },
  );
  const ssl = encrypted ? { ssl: { rejectUnauthorized: false } } : {};
  const ask = async (sql: readonly string[], to: { socketPath: string; user: string } | null): Promise<void> => {
    const login = to ?? { host: "127.0.0.1", port, user: "elkhorn", password: "reads-only", database: "records", ...ssl };
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
