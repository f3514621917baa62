/** Server time of a portal's list page against a page of the same markup with no data, in the production build. */
import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { request } from "node:http";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { median, print, round } from "./measure";

const freePort = (): Promise<number> =>
  new Promise((done) => {
    const probe = createServer().listen(0, "localhost", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => done(port));
    });
  });

interface Got {
  status: number;
  cookie: string;
  bytes: number;
  ms: number;
}

const call = (port: number, host: string, path: string, cookie = "", body?: string): Promise<Got> =>
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

export async function benchPages(): Promise<void> {
  const data = mkdtempSync(join(tmpdir(), "elkhorn-bench-pages-"));
  const port = await freePort();
  const env = { ...process.env, ELKHORN_DATA: data, ELKHORN_BENCH: "1", NODE_ENV: "production" as const, NEXT_TELEMETRY_DISABLED: "1" };
  let server: ChildProcess | undefined;
  try {
    const made = spawnSync("node_modules/.bin/tsx", ["src/demo/main.ts", String(port), "1"], { env, encoding: "utf8" });
    if (made.status !== 0) throw new Error(made.stderr);
    server = spawn(process.execPath, ["scripts/serve.mjs"], {
      env: { ...env, ELKHORN_PORT: String(port), ELKHORN_LOG: "warn" },
      stdio: "ignore",
    });
    for (let i = 0; i < 100; i++) {
      if (
        await call(port, "localhost", "/sign-in").then(
          (g) => g.status === 200,
          () => false,
        )
      )
        break;
      await new Promise((r) => setTimeout(r, 150));
    }
    const { cookie } = await call(
      port,
      "fernhill.localhost",
      "/api/v1/session",
      "",
      JSON.stringify({ email: "dana@saltmarsh.example", password: "dana-reads-every-sign" }),
    );
    const list = () => call(port, "fernhill.localhost", "/signs", cookie);
    const bare = () => call(port, "localhost", "/bench/list");
    const [l, b] = [await list(), await bare()];
    if (l.status !== 200 || b.status !== 200) throw new Error(`The pages answered ${l.status} and ${b.status}.`);
    for (let i = 0; i < 60; i++) {
      await list();
      await bare();
    }
    const ours: number[] = [];
    const theirs: number[] = [];
    for (let i = 0; i < 120; i++) {
      ours.push((await list()).ms);
      theirs.push((await bare()).ms);
    }
    print({
      name: "portal list page, server time",
      ratio: round(median(ours.map((x, i) => x / theirs[i]!))),
      unit: `x a bare page of the same markup (${round(median(theirs))} ms, ${b.bytes} against ${l.bytes} bytes)`,
      goal: "<= 2.0",
    });
  } finally {
    server?.kill();
    rmSync(data, { recursive: true, force: true });
  }
}
