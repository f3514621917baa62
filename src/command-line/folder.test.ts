/** Commands against a folder, as somebody at its machine gives them: what they do, and what they say where they cannot. */
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { published } from "@/data/definition/published";
import { closeFiles, type PortalFile } from "@/data/file/open";
import Database from "@/data/file/sqlite";
import { createPortal } from "@/data/installation/portals";
import { Desk } from "@/data/records/desk";
import { addTable } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { must } from "@/testing/portal";
import { PUBLISHER, testViewer } from "@/testing/world";
import type { Asked, Said } from "./asked";
import { folderCommand } from "./folder";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-folder-"));
const before = process.env.ELKHORN_DATA;
const owner = testViewer({ kind: "owner", company: null }) as Owner;
let file: PortalFile;

const asked = (command: Asked["command"], args: string[], more: Partial<Asked> = {}): Asked => ({
  command,
  args,
  portal: "first",
  remote: null,
  data: null,
  json: false,
  out: null,
  format: "csv",
  by: null,
  note: "",
  ...more,
});
const run = (...of: Parameters<typeof asked>): Promise<Said> => folderCommand(asked(...of));
const csv = (name: string, text: string): string => {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
};
const signs = () => schemaOf(file).tableBySlug("signs")!;
const desk = () => new Desk(file, published(file).policy, owner);

beforeAll(() => {
  process.env.ELKHORN_DATA = folder;
});
afterAll(() => {
  closeFiles();
  if (before === undefined) delete process.env.ELKHORN_DATA;
  else process.env.ELKHORN_DATA = before;
  rmSync(folder, { recursive: true, force: true });
});

it("says that there is no installation, and makes none", async () => {
  await expect(run("link", [])).rejects.toThrow(`There is no installation in ${folder}`);
  expect(readdirSync(folder)).toEqual([]);
});

describe("in an installation", () => {
  beforeAll(() => {
    for (const slug of ["first", "second"]) {
      const made = createPortal(slug, slug, PUBLISHER);
      if ("problem" in made) throw new Error(made.problem);
      if (slug === "first") file = made.file;
    }
    const fields = ["code", "note"].map((slug) => ({ slug, name: slug === "code" ? "Code" : "Note", type: "text" as const }));
    addTable(file, { slug: "signs", name: "Signs", singular: "Sign", fields });
    file.statements.clear();
    must(desk().add(signs(), { [signs().fields[0]!.id]: "A-1" }));
  });

  it("asks which portal is meant, and names those that there are", async () => {
    await expect(run("link", [], { portal: null })).rejects.toThrow("first, second");
    await expect(run("link", [], { portal: "third" })).rejects.toThrow("There are first, second.");
    await expect(run("client", ["x"])).rejects.toThrow("--at");
  });
  it("finds a table by its address or its name, and names those that there are", async () => {
    const [byAddress, byName] = await Promise.all([run("link", ["signs"]), run("link", ["SIGNS"])]);
    expect(byAddress.json.address).toMatch(/\/signs$/);
    expect(byName).toEqual(byAddress);
    await expect(run("link", ["robots"])).rejects.toThrow(/has no table “robots”. It has .*signs/);
    await expect(run("link", ["signs", "nothing"])).rejects.toThrow("no record nothing");
  });
  it("brings a file in, knows it again, and says how many of each there were", async () => {
    const path = csv("signs.csv", "Code,Note\nA-1,Known\nA-2,New\n");
    const first = await run("import", ["signs", path], { by: "Code" });
    expect([first.json, first.lines]).toEqual([
      { table: "signs", added: 1, changed: 1, same: 0 },
      ["1 added, 1 changed, 0 the same in Signs."],
    ]);
    expect((await run("import", ["signs", path], { by: "Code" })).json).toMatchObject({ added: 0, changed: 0, same: 2 });
    expect(desk().count(signs())).toBe(2);
  });
  it("brings nothing in of a file that cannot be read", async () => {
    await expect(run("import", ["signs", join(folder, "none.csv")])).rejects.toThrow("none.csv");
    await expect(run("import", ["signs", csv("empty.csv", "")])).rejects.toThrow("empty");
    expect(desk().count(signs())).toBe(2);
  });
  it("writes a table out under its name once it is whole, for its owner's eyes alone", async () => {
    const out = join(folder, "out.csv");
    expect((await run("export", ["signs"], { out })).json).toEqual({ table: "signs", file: out });
    expect(readFileSync(out, "utf8").replace("\uFEFF", "").trim().split("\r\n").slice(1).sort()).toEqual([
      expect.stringContaining("A-1,Known"),
      expect.stringContaining("A-2,New"),
    ]);
    expect([existsSync(`${out}.part`), statSync(out).mode & 0o077]).toEqual([false, 0]);
    await expect(run("export", ["signs"], { json: true })).rejects.toThrow("--out FILE");
  });
  it("publishes nothing where there is no draft", async () => {
    const { version } = published(file);
    expect((await run("publish", [])).json).toEqual({ version, published: false });
    expect(published(file).version).toBe(version);
  });
  it("copies all of it into a new folder, each file whole, and readable by its owner alone", async () => {
    const into = join(folder, "backups");
    const { json } = await run("backup", [into]);
    const at = json.folder as string;
    expect([json.portals, readdirSync(into)]).toEqual([["first", "second"], [at.slice(into.length + 1)]]);
    for (const path of ["elkhorn.db", ...readdirSync(join(at, "portals")).map((f) => join("portals", f))]) {
      const copy = new Database(join(at, path), { readonly: true });
      expect([path, copy.pragma("integrity_check", { simple: true }), statSync(join(at, path)).mode & 0o077]).toEqual([path, "ok", 0]);
      copy.close();
    }
    const [one] = readdirSync(join(at, "portals")).filter((f) => f.includes(file.path.split("/").at(-1)!));
    const copy = new Database(join(at, "portals", one!), { readonly: true });
    expect(copy.prepare(`SELECT count(*) FROM "${signs().id}"`).pluck().get()).toBe(2);
    copy.close();
  });
});
