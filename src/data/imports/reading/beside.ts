/** The files that rows of an import name: taken out of the archive and kept before the rows are checked, and given to records with them. */

import { existsSync, rmSync, statSync } from "node:fs";
import { and, inArray, isNull } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { err, ok, type Result } from "@/core/result";
import { MOST_FILES } from "@/core/schema/fields/files";
import { holdsFiles } from "@/core/schema/fields/natures";
import type { Field, Schema, Table } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { newId } from "../../file/ids";
import type { PortalFile } from "../../file/open";
import { files } from "../../file/portal-tables";
import { keepContent, unfitFor } from "../../files/content";
import { MOST_PORTAL } from "../../files/store";
import { uploader } from "../../files/uploader";
import { cleanName, named } from "../../files/uploads";
import { FilesByName, nameKey, OpenArchive } from "./archive";
import { Overtaken } from "./overtaken";
import { importPath } from "./paths";
import { plannedColumns } from "./planned";

/** A file of the archive: kept and waiting where some row names it, or what is wrong with it. */
export interface Prepared {
  readonly path: string;
  readonly id: string | null;
  readonly problem: string | null;
  readonly source: string | null;
  readonly type: string | null;
}

/** Columns of the file whose cells name files. */
export const fileColumns = (plan: ImportPlan, schema: Schema): number[] =>
  plannedColumns(plan, schema).flatMap((c) => (holdsFiles(c.field) ? [c.at] : []));

/** Names in a cell, of which a name itself may hold a semicolon or a comma: the longest that is known is taken. */
export function filesNamed(text: string, known: (name: string) => boolean): string[] {
  if (text.trim() === "") return [];
  if (known(text)) return [text.trim()];
  const parted = (t: string, by: string): string[] => {
    const parts = t.split(by);
    const out: string[] = [];
    for (let i = 0; i < parts.length; ) {
      let j = parts.length;
      while (j > i + 1 && !known(parts.slice(i, j).join(by))) j--;
      const name = parts.slice(i, j).join(by).trim();
      if (name !== "") out.push(name);
      i = j;
    }
    return out;
  };
  return parted(text, ";").flatMap((p) => (known(p) ? [p] : parted(p, ",")));
}

/** What they are made by while they wait: no form can take them. */
const waiting = (importId: string): string => `import:${importId}`;

/** Keeps every file of the archive that one of these cells names. A file that was kept for an earlier check is not kept twice. */
export async function prepareFiles(
  file: PortalFile,
  importId: string,
  texts: Iterable<string>,
  now: number,
  told: (done: number, total: number) => void,
): Promise<Result<Prepared[], string>> {
  if (!existsSync(importPath(importId, "zip"))) return ok([]);
  const opened = await OpenArchive.of(importPath(importId, "zip"));
  if (!opened.ok) return opened;
  const archive = opened.value;
  try {
    const byName = new FilesByName(archive.entries);
    const wanted = new Map<string, number>();
    for (const text of texts)
      for (const name of filesNamed(text, (n) => byName.find(n) !== undefined)) {
        const found = byName.find(name);
        if (found && found !== "many") wanted.set(found.path, found.bytes);
      }
    const there = new Map(preparedFiles(file, importId).map((p) => [p.path, p]));
    const held = file.db.prepare("SELECT coalesce(sum(bytes), 0) FROM sys_files").pluck().get() as number;
    const fresh = [...wanted].filter(([path]) => !there.has(path));
    if (held + fresh.reduce((n, [, bytes]) => n + bytes, 0) > MOST_PORTAL)
      return err("There is no room left for these files in this portal.");
    const note = file.db.prepare("INSERT OR REPLACE INTO sys_import_files VALUES (?, ?, ?, ?)");
    let done = 0;
    for (const [path] of fresh) {
      told(done++, fresh.length);
      const kept = await keepOne(file, importId, archive, path, now);
      note.run(importId, path, kept.ok ? kept.value : null, kept.ok ? null : kept.error);
    }
    const kept = new Map(preparedFiles(file, importId).map((p) => [p.path, p]));
    // The others too: of two that are called the same, one that nobody names makes the other unclear.
    return ok(archive.entries.map(({ path }) => kept.get(path) ?? { path, id: null, problem: null, source: null, type: null }));
  } finally {
    archive.close();
  }
}

async function keepOne(
  file: PortalFile,
  importId: string,
  archive: OpenArchive,
  path: string,
  now: number,
): Promise<Result<string, string>> {
  const part = importPath(importId, "zip-file");
  try {
    if (!(await archive.takeOut(path, part))) return err("It is damaged in the ZIP archive.");
    const { size } = statSync(part);
    if (size === 0) return err("This file is empty.");
    const kept = await keepContent(file, part, size);
    if (!kept.ok) return kept;
    const id = newId();
    const madeAt = new Date(now).toISOString();
    file.orm
      .insert(files)
      .values({ id, fieldId: "", ...named(path), madeAt, madeBy: waiting(importId), ...kept.value })
      .run();
    return ok(id);
  } finally {
    rmSync(part, { force: true });
  }
}

/** Prepared files that are still there: they are swept after a day. */
function preparedFiles(file: PortalFile, importId: string): Prepared[] {
  return file.db
    .prepare(
      `SELECT p.path, p.file_id AS id, p.problem, f.source, f.type FROM sys_import_files p LEFT JOIN sys_files f ON f.id = p.file_id
       WHERE p.import_id = ? AND (p.problem IS NOT NULL OR f.id IS NOT NULL)`,
    )
    .all(importId) as Prepared[];
}

/** Another archive is beside the table, or none: what was kept of the one before waits for the sweep. */
export const forgetPrepared = (file: PortalFile, importId: string): void =>
  void file.db.prepare("DELETE FROM sys_import_files WHERE import_id = ?").run(importId);

const PREPARED = "zip:";

/** Reads the cells of one field. */
export class FileReader {
  readonly #held = new Map<string, { id: string; name: string; source: string | null }[]>();

  constructor(
    file: PortalFile,
    private readonly field: Field,
    table: Table | null,
    private readonly byName: FilesByName<Prepared>,
    private readonly any: boolean,
  ) {
    if (!table || field.tableId !== table.id) return;
    const rows = file.db
      .prepare(
        `SELECT t.id, f.id, f.name, f.source FROM ${sqlName(table.id)} t, json_each(t.${sqlName(field.id)}) j JOIN sys_files f ON f.id = j.value ORDER BY j.key`,
      )
      .raw()
      .iterate() as IterableIterator<[string, string, string, string | null]>;
    for (const [record, id, name, source] of rows) {
      const held = this.#held.get(record);
      if (held) held.push({ id, name, source });
      else this.#held.set(record, [{ id, name, source }]);
    }
  }

  /** Ids of files that the record has, and marks of those that it is to have. */
  read(text: string, record: string | null): Result<string[], string> {
    const held = record ? (this.#held.get(record) ?? []) : [];
    const own = (name: string) => held.find((h) => nameKey(h.name) === nameKey(name));
    const names = filesNamed(text, (n) => this.byName.find(n) !== undefined || own(n) !== undefined);
    if (names.length > MOST_FILES) return err(`A field holds ${MOST_FILES} files at the most.`);
    const ids: string[] = [];
    for (const name of names) {
      const found = this.byName.find(name);
      if (found === "many") return err(`There are several files called “${name}” in the ZIP archive. Name it with its folder.`);
      if (!found) {
        const there = own(name);
        if (there) {
          ids.push(there.id);
          continue;
        }
        return err(
          this.any ? `There is no file “${name}” in the ZIP archive.` : `Drop a ZIP archive with the file “${name}” beside the table.`,
        );
      }
      if (found.problem !== null) return err(`“${name}”: ${found.problem}`);
      const unfit = unfitFor(this.field, found.type ?? "");
      if (unfit) return err(`“${name}”: ${unfit}`);
      const same = held.find((h) => h.source !== null && h.source === found.source && nameKey(h.name) === nameKey(cleanName(found.path)));
      ids.push(same?.id ?? `${PREPARED}${found.id}`);
    }
    return ok([...new Set(ids)]);
  }
}

/** The name of a file that a record has, or is to have. */
export const fileName = (file: PortalFile, id: string): string =>
  String(file.db.prepare("SELECT name FROM sys_files WHERE id = ?").pluck().get(id.replace(PREPARED, "")) ?? "");

/** In the transaction that brings the rows in: each record gets files of its own, which share their contents. */
export function settleFiles(file: PortalFile, owner: Owner, at: number, fieldId: string): void {
  const rows = file.db.prepare(`SELECT id, c${at} AS cell FROM stage.rows WHERE state < 2 AND c${at} LIKE '%"${PREPARED}%'`).all() as {
    id: string;
    cell: string;
  }[];
  const put = file.db.prepare(`UPDATE stage.rows SET c${at} = ? WHERE id = ?`);
  const by = { madeAt: new Date(owner.now).toISOString(), madeBy: uploader(owner) };
  for (const { id: record, cell } of rows) {
    const marks = JSON.parse(cell) as string[];
    const wanted = marks.flatMap((m) => (m.startsWith(PREPARED) ? [m.slice(PREPARED.length)] : []));
    const found = new Map(
      file.orm
        .select()
        .from(files)
        .where(and(inArray(files.id, wanted), isNull(files.recordId)))
        .all()
        .map((f) => [f.id, f]),
    );
    const ids = marks.map((m) => {
      if (!m.startsWith(PREPARED)) return m;
      const kept = found.get(m.slice(PREPARED.length));
      if (!kept) throw new Overtaken("The files beside the table were kept for a day only. Check all rows again.");
      const id = newId();
      file.orm
        .insert(files)
        .values({ ...kept, id, fieldId, recordId: record, ...by })
        .run();
      return id;
    });
    put.run(JSON.stringify(ids), record);
  }
}
