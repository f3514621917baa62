/** One production server with a fresh demo for all stories; stopped and removed at the end. */
import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import type { TestProject } from "vitest/node";

declare module "vitest" {
  interface ProvidedContext {
    port: number;
    data: string;
  }
}

const ROOT = resolve(import.meta.dirname, "../..");

export const freePort = (): Promise<number> =>
  new Promise((done) => {
    const probe = createServer().listen(0, "localhost", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => done(port));
    });
  });

export function makeDemoAt(data: string, port: number): void {
  const made = spawnSync(join(ROOT, "node_modules/.bin/tsx"), ["src/demo/main.ts", String(port), "1"], {
    cwd: ROOT,
    env: { ...process.env, ELKHORN_DATA: data },
    encoding: "utf8",
  });
  if (made.status !== 0) throw new Error(`The demo could not be made:\n${made.stderr}`);
}

export async function startServer(data: string, port: number): Promise<ChildProcess> {
  const child = spawn(process.execPath, [join(ROOT, "node_modules/next/dist/bin/next"), "start", "-p", String(port), "-H", "localhost"], {
    cwd: ROOT,
    env: { ...process.env, ELKHORN_DATA: data, NODE_ENV: "production", NEXT_TELEMETRY_DISABLED: "1" },
    stdio: ["ignore", "ignore", "inherit"],
  });
  for (let i = 0; i < 200; i++) {
    if (
      await fetch(`http://localhost:${port}/sign-in`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return child;
    await new Promise((r) => setTimeout(r, 100));
  }
  child.kill("SIGKILL");
  throw new Error("The server did not answer within twenty seconds.");
}

export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const data = mkdtempSync(join(tmpdir(), "elkhorn-stories-"));
  const port = await freePort();
  makeDemoAt(data, port);
  const child = await startServer(data, port);
  project.provide("port", port);
  project.provide("data", data);
  return async () => {
    child.kill();
    rmSync(data, { recursive: true, force: true });
  };
}
