/** A data folder of a test file's own: there before its tests, gone after them. Called once, at the top of the file. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll } from "vitest";

export function ownFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), "elkhorn-test-"));
  let before: string | undefined;
  beforeAll(() => {
    before = process.env.ELKHORN_DATA;
    process.env.ELKHORN_DATA = folder;
  });
  afterAll(() => {
    if (before === undefined) delete process.env.ELKHORN_DATA;
    else process.env.ELKHORN_DATA = before;
    rmSync(folder, { recursive: true, force: true });
  });
  return folder;
}
