/** The product as it is served, on a demo of its own. `cookie` signs somebody of Fernhill's in. */
import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { request } from "node:http";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";

export const freePort = (): Promise<number> =>
  new Promise((done) => {
    const probe = createServer().listen(0, "localhost", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => done(port));
    });
  });

export interface Got {
  status: number;
  cookie: string;
  bytes: number;
  ms: number;
}

export const call = (port: number, host: string, path: string, cookie = "", body?: string): Promise<Got> =>
  new Promise((done, fail) => {
    const from = process.hrtime.bigint();
    const r = request(
      {
        host: "127.0.0.1",
        port,
        path,
        method: body ? "POST" : "GET",
        headers: { host: `${host}:${port}`, ...(cookie ? { cookie } : {}), ...(body ? { "content-type": "application/json" } : {}) },
      },
      (res) => {
        let bytes = 0;
        res.on("data", (p: Buffer) => {
          bytes += p.length;
        });
        res.on("end", () =>
          done({
            status: res.statusCode ?? 0,
            cookie: res.headers["set-cookie"]?.[0]?.split(";")[0] ?? "",
            bytes,
            ms: Number(process.hrtime.bigint() - from) / 1e6,
          }),
        );
      },
    );
    r.on("error", fail);
    r.end(body);
  });

export interface Served {
  readonly port: number;
  readonly cookie: (email: string) => Promise<string>;
}

/** `before` works with the demo's folder, and is done before anything is served from it. */
export async function served(work: (s: Served) => Promise<void>, before: (data: string) => Promise<void> = async () => {}): Promise<void> {
  const data = mkdtempSync(join(tmpdir(), "elkhorn-bench-served-"));
  const port = await freePort();
  const env = { ...process.env, ELKHORN_DATA: data, ELKHORN_BENCH: "1", NODE_ENV: "production" as const, NEXT_TELEMETRY_DISABLED: "1" };
  let server: ChildProcess | undefined;
  try {
    const made = spawnSync("node_modules/.bin/tsx", ["src/demo/main.ts", String(port), "1"], { env, encoding: "utf8" });
    if (made.status !== 0) throw new Error(made.stderr);
    await before(data);
    server = spawn(process.execPath, ["scripts/serve.mjs"], {
      // Other systems of the bench are neighbours on this machine.
      env: { ...env, ELKHORN_INSIDE: "localhost", ELKHORN_PORT: String(port), ELKHORN_LOG: "warn" },
      stdio: "ignore",
    });
    for (let i = 0; i < 100; i++) {
      const up = await call(port, "localhost", "/sign-in").then(
        (g) => g.status === 200,
        () => false,
      );
      if (up) break;
      await new Promise((r) => setTimeout(r, 150));
    }
    const cookie = async (email: string): Promise<string> => {
      const body = JSON.stringify({ email, password: `${email.split("@")[0]}-reads-every-sign` });
      return (await call(port, "fernhill.localhost", "/api/v1/session", "", body)).cookie;
    };
    await work({ port, cookie });
  } finally {
    server?.kill();
    rmSync(data, { recursive: true, force: true });
  }
}
