/** A name server that is none: records and files stand in one file of the data folder, written on the stand-in's own page. */
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { z } from "zod";
import type { Names } from "./contract";

const shape = z.array(z.object({ kind: z.enum(["text", "file"]), name: z.string(), says: z.string() }));
export type Entry = z.infer<typeof shape>[number];

const at = (folder: string): string => join(folder, "names.json");

/** The stand-in's entries; none where there is no such folder. */
export function entriesIn(folder: string): Entry[] {
  if (!existsSync(at(folder))) return [];
  return shape.parse(JSON.parse(readFileSync(at(folder), "utf8")));
}

/** Keeps these entries in place of the stand-in's former ones. */
export function keepEntries(folder: string, entries: readonly Entry[]): void {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  writeFileSync(`${at(folder)}.part`, JSON.stringify(entries, null, 1), { mode: 0o600 });
  renameSync(`${at(folder)}.part`, at(folder));
}

/** A file's name is its address without the scheme. */
export const standInNames = (folder: string): Names => ({
  id: "stand-in",
  texts: async (name) =>
    entriesIn(folder)
      .filter((e) => e.kind === "text" && e.name.toLowerCase() === name.toLowerCase())
      .map((e) => e.says),
  file: async (host, path) => entriesIn(folder).find((e) => e.kind === "file" && e.name === host + path)?.says ?? null,
});
