import { mkdtempSync, readdirSync, readlinkSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, it } from "vitest";
import type { PortalId } from "@/core/ids";
import { Handle, held, Pool } from "./handles";
import Database from "./sqlite";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-handles-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function some(n: number, limits: Partial<ConstructorParameters<typeof Pool>[0]> = {}) {
  const pool = new Pool({ mostOpen: 3, idle: 0, budget: 60 * 1024, ...limits });
  const gone: string[] = [];
  const files = Array.from({ length: n }, (_, i) => {
    const path = join(folder, `${i}.db`);
    const make = () => new Database(path);
    return new Handle(String(i) as PortalId, String(i), path, false, make, pool, () => gone.push(String(i)));
  });
  return { pool, files, gone };
}
const number = (f: Handle): unknown => f.db.prepare("SELECT 1").pluck().get();
const later = (): Promise<void> => new Promise((r) => setTimeout(r, 3));

it("a file opens by being used; of more than may be open those used longest ago are closed, and open again when they are used", async () => {
  const { pool, files, gone } = some(5);
  expect(pool.size).toBe(0);
  for (const f of files) {
    expect(number(f)).toBe(1);
    await later();
  }
  expect([pool.size, gone]).toEqual([3, ["0", "1"]]);
  const before = files[0]!.statements;
  expect([number(files[0]!), pool.size, gone]).toEqual([1, 3, ["0", "1", "2"]]);
  await later();
  files[0]!.rest();
  expect(files[0]!.statements).not.toBe(before); // statements are of a handle, and go with it
  pool.closeAll();
  if (process.platform === "linux") expect(readdirSync("/proc/self/fd").filter((fd) => link(fd).startsWith(folder))).toEqual([]);
});

it("what is pinned, in a transaction or only just used stays open, however many there are", async () => {
  const { pool, files, gone } = some(8);
  const [pinned, writing] = files as [Handle, Handle];
  await held(pinned, async () => {
    writing.db.exec("BEGIN");
    for (const f of files) {
      number(f);
      await later();
    }
    expect([gone.includes("0"), gone.includes("1"), pool.size]).toEqual([false, false, 3]);
    writing.db.exec("COMMIT");
  });
  for (const f of files.slice(2)) {
    number(f);
    await later();
  }
  expect([gone.includes("0"), gone.includes("1")]).toEqual([true, true]);
  pool.closeAll();
  const hasty = some(8, { idle: 60_000 });
  for (const f of hasty.files) number(f);
  expect(hasty.gone).toEqual([]);
  hasty.pool.closeAll();
});

it("all that are open share one budget of memory", () => {
  const { pool, files } = some(3);
  const sizes = () => files.map((f) => f.db.pragma("cache_size", { simple: true }));
  number(files[0]!);
  expect(files[0]!.db.pragma("cache_size", { simple: true })).toBe(-60 * 1024);
  for (const f of files) number(f);
  expect(sizes()).toEqual([-20 * 1024, -20 * 1024, -20 * 1024]);
  pool.closeAll();
});

function link(fd: string): string {
  try {
    return readlinkSync(`/proc/self/fd/${fd}`);
  } catch {
    return "";
  }
}
