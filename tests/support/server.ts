/**
 * The demo is made once for all stories. Each file of stories then has a copy of its folder and a production server of its own, so
 * files run side by side, and what one does to the portal is nothing to another.
 */
import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { afterAll, inject } from "vitest";
import type { TestProject } from "vitest/node";

declare module "vitest" {
  interface ProvidedContext {
    demo: string;
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

function makeDemoAt(data: string): void {
  const made = spawnSync(join(ROOT, "node_modules/.bin/tsx"), ["src/demo/main.ts", "3000", "1"], {
    cwd: ROOT,
    env: { ...process.env, ELKHORN_DATA: data },
    encoding: "utf8",
  });
  if (made.status !== 0) throw new Error(`The demo could not be made:\n${made.stderr}`);
}

interface Settings {
  /** Portals stand under /p/<slug> of the main host, too. */
  readonly paths?: boolean;
  /** What browsers write, where that is not this very server. */
  readonly address?: string;
  /** The port of a Till that is started with it. */
  readonly till?: number;
}

export async function startServer(
  data: string,
  port: number,
  { paths = false, address = `http://localhost:${port}`, till }: Settings = {},
): Promise<ChildProcess> {
  const settings = {
    ELKHORN_DATA: data,
    ELKHORN_PORT: String(port),
    ELKHORN_ADDRESS: address,
    ELKHORN_NAMES: "stand-in",
    ELKHORN_INSIDE: "localhost",
    ELKHORN_PORTAL_PATHS: paths ? "on" : "off",
    ...(till ? { ELKHORN_TILL: `http://till.localhost:${till}` } : {}),
  };
  const child = spawn(process.execPath, [join(ROOT, "scripts/serve.mjs")], {
    cwd: ROOT,
    env: { ...process.env, ...settings, NODE_ENV: "production", NEXT_TELEMETRY_DISABLED: "1" },
    stdio: ["ignore", "ignore", "inherit"],
  });
  for (const end = Date.now() + 60_000; Date.now() < end; await new Promise((r) => setTimeout(r, 50)))
    if (
      await fetch(`http://localhost:${port}/-/ready`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return child;
  child.kill("SIGKILL");
  throw new Error("The server did not answer within a minute.");
}

/** A server on a fresh copy of the demo, for the file of stories that asks; stopped and removed when its stories have ended. */
export async function ownServer(settings: Settings = {}): Promise<{ port: number; data: string }> {
  const data = mkdtempSync(join(tmpdir(), "elkhorn-story-"));
  let child: ChildProcess | undefined;
  afterAll(async () => {
    if (child?.kill()) await once(child, "exit");
    rmSync(data, { recursive: true, force: true });
  });
  cpSync(inject("demo"), data, { recursive: true });
  const port = await freePort();
  child = await startServer(data, port, settings);
  return { port, data };
}

/** With the demo's accounts at it; its events go to this server. */
export async function startTillAt(till: number, data: string, elkhorn: number): Promise<ChildProcess> {
  const child = spawn(
    process.execPath,
    [join(ROOT, "node_modules/.bin/tsx"), "src/till/main.ts", String(till), join(data, "till.db"), String(elkhorn)],
    {
      cwd: ROOT,
      stdio: ["ignore", "pipe", "inherit"],
    },
  );
  await new Promise((said) => child.stdout!.once("data", said));
  return child;
}

/** The same with a Till beside it. */
export async function ownServerWithTill(): Promise<{ port: number; till: number; data: string; tillProcess: () => ChildProcess }> {
  const till = await freePort();
  let child: ChildProcess | undefined;
  afterAll(() => void child?.kill());
  const own = await ownServer({ till });
  child = await startTillAt(till, own.data, own.port);
  return { ...own, till, tillProcess: () => child! };
}

export default function setup(project: TestProject): () => void {
  const data = mkdtempSync(join(tmpdir(), "elkhorn-demo-"));
  makeDemoAt(data);
  project.provide("demo", data);
  return () => rmSync(data, { recursive: true, force: true });
}
