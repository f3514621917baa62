/** Other systems as the owner connects them. What opens them is sealed apart, and never leaves this file but for the adapter. */
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import type { EventKind } from "@/core/events/kinds";
import { err, ok, type Result } from "@/core/result";
import { record } from "@/data/events/record";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { seal, unseal } from "@/identity/secrets/secrets";
import { isSourceKind, SOURCES, type SourceKind } from "@/services/sources";
import type { SourceAdapter, SourceObject, SourceSettings } from "@/services/sources/contract";

export interface Source {
  readonly id: string;
  readonly name: string;
  readonly kind: SourceKind;
  /** Without what is secret. */
  readonly settings: SourceSettings;
  readonly madeAt: number;
}

export interface SourceProblem {
  /** "" is the connection as a whole. */
  readonly field: string;
  readonly message: string;
}

interface Row {
  id: string;
  name: string;
  kind: string;
  settings: string;
  secret: string;
  madeAt: number;
}

const ASK = "SELECT id, name, kind, settings, secret, made_at AS madeAt FROM sys_sources";
const sourceOf = (r: Row): Source[] =>
  isSourceKind(r.kind)
    ? [{ id: r.id, name: r.name, kind: r.kind, settings: JSON.parse(r.settings) as SourceSettings, madeAt: r.madeAt }]
    : [];

/** The other systems that a portal is connected to. */
export const sourcesOf = (file: PortalFile, _owner: Owner): Source[] =>
  (file.db.prepare(`${ASK} ORDER BY name COLLATE NOCASE, id`).all() as Row[]).flatMap(sourceOf);
/** One of the other systems; undefined where there is none. */
export const sourceById = (file: PortalFile, id: string): Source | undefined => {
  const row = file.db.prepare(`${ASK} WHERE id = ?`).get(id) as Row | undefined;
  return row && sourceOf(row)[0];
};

/** What speaks with systems of a kind. */
export const adapterOf = (kind: SourceKind): SourceAdapter => SOURCES[kind];

/** With what is secret: for the adapter alone. */
export function settingsFor(file: PortalFile, source: Source): SourceSettings {
  const sealed = file.db.prepare("SELECT secret FROM sys_sources WHERE id = ?").pluck().get(source.id) as string;
  return { ...source.settings, ...(JSON.parse(unseal(file.id, "source", sealed)) as SourceSettings) };
}

export interface NewSource {
  readonly name: string;
  readonly kind: SourceKind;
  readonly settings: SourceSettings;
}

/** Tested before it is kept: what there is to choose from is asked for. */
export async function addSource(
  file: PortalFile,
  owner: Owner,
  asked: NewSource,
): Promise<Result<{ id: string; objects: readonly SourceObject[] }, SourceProblem>> {
  if (!asked.name.trim()) return err({ field: "name", message: "Name the system, such as “Client records”." });
  const adapter = adapterOf(asked.kind);
  for (const f of adapter.fields)
    if (!f.optional && !asked.settings[f.name]?.trim()) return err({ field: f.name, message: `${f.label} is needed.` });
  const found = await adapter.objects(asked.settings);
  if (!found.ok) return err({ field: "", message: found.error.message });
  const isSecret = (name: string): boolean => adapter.fields.some((f) => f.name === name && f.secret === true);
  const known = Object.entries(asked.settings).filter(([name]) => adapter.fields.some((f) => f.name === name));
  const some = (secret: boolean): string => JSON.stringify(Object.fromEntries(known.filter(([name]) => isSecret(name) === secret)));
  const id = newId();
  return transact(file, () => {
    file.db
      .prepare("INSERT INTO sys_sources (id, name, kind, settings, secret, made_at) VALUES (?, ?, ?, ?, ?, ?)")
      .run(id, asked.name.trim(), asked.kind, some(false), seal(file.id, "source", some(true)), owner.now);
    note(file, owner, "source-connected", asked.name.trim());
    return ok({ id, objects: found.value });
  });
}

/** What came by it stays, as records like any other. */
export function dropSource(file: PortalFile, owner: Owner, id: string): boolean {
  return transact(file, () => {
    const source = sourceById(file, id);
    if (!source) return false;
    file.db.prepare("DELETE FROM sys_sources WHERE id = ?").run(id);
    note(file, owner, "source-disconnected", source.name);
    return true;
  });
}

export const note = (file: PortalFile, owner: Owner, kind: EventKind, detail: string): void =>
  void record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind, detail });
