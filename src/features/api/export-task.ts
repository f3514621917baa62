/** A large export: written whole into a file by a thread, on a reading handle of its own, so that nobody else waits for it. */
import { closeSync, mkdirSync, openSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { published } from "@/data/definition/published";
import { dataFolder, portalFile } from "@/data/file/open";
import { Desk } from "@/data/records/desk";
import type { ListQuery } from "@/data/records/query/where";
import { viewersTask } from "@/data/threads";
import { exportFile, type Format } from "./export-files";

export interface ExportAsk {
  readonly portal: string;
  readonly table: string;
  readonly query: ListQuery;
  readonly format: Format;
  readonly path: string;
}

export const exportFolder = (): string => join(dataFolder(), "exports");

/** @returns Bytes written. The file is the caller's to remove. */
export const exportTask = viewersTask("export", async ({ portal, table, query, format, path }: ExportAsk, viewer): Promise<number> => {
  const file = portalFile(portal, true);
  if (!file) throw new Error(`There is no portal at ${portal} any more.`);
  const desk = new Desk(file, published(file).policy, viewer, "api");
  mkdirSync(exportFolder(), { recursive: true, mode: 0o700 });
  const out = openSync(path, "wx", 0o600);
  let bytes = 0;
  try {
    for await (const piece of exportFile(desk, desk.schema.table(table), query, format)) {
      writeFileSync(out, piece);
      bytes += Buffer.byteLength(piece);
    }
  } finally {
    closeSync(out);
  }
  return bytes;
});

/** What a process left that was killed between writing and sending. */
export function sweepExports(): void {
  mkdirSync(exportFolder(), { recursive: true, mode: 0o700 });
  for (const name of readdirSync(exportFolder())) rmSync(join(exportFolder(), name), { force: true });
}
