import { copyFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { system } from "@/core/events/event";
import { ownFolder } from "@/testing/folder";
import { closeFiles, control, forgetFile, portalFile } from "../file/open";
import { createPortal } from "./portals";
import { eachPortal, portalSlugs, unavailable } from "./supervisor";

const folder = ownFolder();
const NOW = Date.parse("2026-06-15T12:00:00Z");
beforeAll(() => {
  for (const slug of ["ash", "birch", "cedar"]) createPortal(slug, slug, { actor: system("test"), name: "test", at: NOW });
});
afterAll(() => {
  closeFiles();
});
const visited = async (now = NOW): Promise<string[]> => {
  const seen: string[] = [];
  await eachPortal(
    (f) => void seen.push(f.slug),
    () => now,
    () => {},
  );
  return seen;
};

describe("one portal never stops another", () => {
  it("a damaged file is passed over, told with what to do, and comes back by itself once it is mended", async () => {
    const { path } = portalFile("birch")!;
    forgetFile(path);
    copyFileSync(path, `${path}.whole`);
    for (const end of ["-wal", "-shm"]) rmSync(path + end, { force: true });
    writeFileSync(path, "this is no database, ".repeat(500));
    expect(await visited()).toEqual(["ash", "cedar"]);
    const down = unavailable("birch", NOW + 1)!;
    expect(down.why).toContain("damaged");
    expect([unavailable("ash", NOW), unavailable("cedar", NOW)]).toEqual([null, null]);
    // Tried ever more seldom, and not at each request.
    const tries = [1_000, 3_000, 7_000].map((ms) => unavailable("birch", NOW + ms + 1)!.tries);
    expect([tries[0]! < tries[1]!, unavailable("birch", NOW + 7_002)!.tries === tries[2]]).toEqual([true, true]);
    copyFileSync(`${path}.whole`, path);
    expect([unavailable("birch", NOW + 600_000), await visited(NOW + 600_000)]).toEqual([null, portalSlugs()]);
  });
  it("a file that another program locks is told as that, and is there again when it lets go", async () => {
    const { path } = portalFile("cedar")!;
    forgetFile(path);
    const other = new Database(path);
    other.pragma("locking_mode = EXCLUSIVE");
    other.exec("BEGIN EXCLUSIVE");
    expect(unavailable("cedar", NOW)?.why).toContain("locked by another program");
    expect(await visited()).toEqual(["ash", "birch"]);
    other.exec("ROLLBACK");
    other.close();
    expect(unavailable("cedar", NOW + 60_000)).toBeNull();
  });
  it("work that fails in one goes on with the next, and is told", async () => {
    const failed: string[] = [];
    const done: string[] = [];
    const work = (f: { slug: string }): void => {
      if (f.slug === "ash") throw new Error("a mistake of the program");
      done.push(f.slug);
    };
    await eachPortal(
      work,
      () => NOW + 700_000,
      (slug) => void failed.push(slug),
    );
    expect([failed, done]).toEqual([["ash"], ["birch", "cedar"]]);
    expect(unavailable("ash", NOW + 700_000)).toBeNull(); // its file is sound
  });
  it("others are answered between one portal and the next", async () => {
    let turns = 0;
    let going = true;
    const turn = (): void => {
      turns++;
      if (going) setImmediate(turn);
    };
    setImmediate(turn);
    await visited(NOW + 800_000);
    going = false;
    expect(turns).toBeGreaterThanOrEqual(3);
  });
  it("the data folder is its owner's alone, also where it was made for everybody", () => {
    control();
    expect([statSync(folder).mode & 0o777, statSync(join(folder, "portals")).mode & 0o777]).toEqual([0o700, 0o700]);
  });
});
