// Marks what a run of tests starts, so that none of it outlives the run: the set-up of every vitest project.
import { spawn } from "node:child_process";
import { randomUUID } from "node:crypto";
import { existsSync } from "node:fs";
import { join } from "node:path";

export default function setup() {
  // Outside of Linux there is no /proc to look through; processes there end with the tests that started them.
  if (process.env.ELKHORN_RUN || !existsSync("/proc/self/environ")) return;
  const id = randomUUID();
  const { NODE_OPTIONS: _, ...env } = process.env;
  const reaper = spawn(process.execPath, [join(import.meta.dirname, "reaper.mjs"), id], {
    stdio: ["pipe", "ignore", "ignore"],
    detached: true,
    env,
  });
  reaper.unref();
  reaper.stdin.unref();
  process.env.ELKHORN_RUN = id;
}
