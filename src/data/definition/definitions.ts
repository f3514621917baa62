/** The portal's definition: the draft, the published versions, and the compiled policy of each. */

import { desc, eq } from "drizzle-orm";
import { Policy } from "@/core/access/policy";
import type { Owner } from "@/core/access/viewer";
import { type Definition, definitionProblems, definitionSchema } from "@/core/definition";
import { err, ok, type Result } from "@/core/result";
import { audit } from "../events/audit";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { roleHolders } from "../people/accounts";
import { makePolicyIndexes } from "../records/query/indexes";
import { storeCompanies } from "../records/write/company";
import { nextNumber, readMeta, schemaOf, writeMeta } from "../schema/registry";
import { forgetSteps, rememberStep } from "./draft-steps";

export interface Published {
  readonly version: number;
  readonly definition: Definition;
  readonly policy: Policy;
}

const compiled = new WeakMap<PortalFile, { key: string; published: Published }>();

/** The published definition with its policy, compiled once for each version. */
export function published(file: PortalFile): Published {
  const schema = schemaOf(file);
  const version = Number(readMeta(file, "definition_version") ?? 0);
  const key = `${version} ${schema.version}`;
  const known = compiled.get(file);
  if (known?.key === key) return known.published;
  const row = file.orm.select().from(t.definitions).where(eq(t.definitions.version, version)).get();
  if (!row) throw new Error(`Portal ${file.slug} has no published definition; createPortal publishes version 1.`);
  const definition = definitionSchema.parse(JSON.parse(row.body));
  const result = { version, definition, policy: new Policy(schema, definition) };
  compiled.set(file, { key, published: result });
  return result;
}

export interface Draft {
  readonly definition: Definition;
  /** Rises with each change; a form sends it back so that two editors do not overwrite each other. */
  readonly revision: number;
  readonly changed: boolean;
}

export function draftOf(file: PortalFile, _owner: Owner): Draft {
  const row = file.orm.select().from(t.draft).get();
  const live = published(file).definition;
  if (!row) return { definition: live, revision: 0, changed: false };
  const definition = definitionSchema.parse(JSON.parse(row.body));
  return { definition, revision: row.revision, changed: JSON.stringify(definition) !== JSON.stringify(live) };
}

declare const everySafeguardHolds: unique symbol;
/** Says that every safeguard of one draft was checked and holds. `uphold` alone makes it, and publishing asks for it. */
export interface Upheld {
  readonly revision: number;
  readonly [everySafeguardHolds]: true;
}

/** `holding` are the ids of safeguards that were checked on this draft and hold; null where one is missing. */
export const uphold = (draft: Draft, holding: ReadonlySet<string>): Upheld | null =>
  draft.definition.safeguards.every((s) => holding.has(s.id)) ? ({ revision: draft.revision } as Upheld) : null;

export type DraftError = { code: "stale" } | { code: "invalid"; messages: string[] };

export function changeDraft(
  file: PortalFile,
  owner: Owner,
  revision: number,
  edit: (d: Definition) => Definition,
  what = "a change",
): Result<{ revision: number }, DraftError> {
  return file.db.transaction(() => {
    const now = draftOf(file, owner);
    if (now.revision !== revision) return err({ code: "stale" as const });
    const parsed = definitionSchema.safeParse(edit(structuredClone(now.definition)));
    if (!parsed.success) return err({ code: "invalid" as const, messages: parsed.error.issues.map((i) => i.message) });
    const problems = definitionProblems(parsed.data, schemaOf(file));
    if (problems.length > 0) return err({ code: "invalid" as const, messages: problems });
    const body = JSON.stringify(parsed.data);
    return ok({ revision: storeDraft(file, body, rememberStep(file, JSON.stringify(now.definition), body, what)) });
  })();
}

/** Writes the draft under a revision of its own, so that whoever looked at the one before is told. */
export function storeDraft(file: PortalFile, body: string, step: number): number {
  const revision = nextNumber(file, "draft_revision");
  const row = { id: 1, body, revision, step, changedAt: new Date().toISOString() };
  file.orm.insert(t.draft).values(row).onConflictDoUpdate({ target: t.draft.id, set: row }).run();
  return revision;
}

/** Makes the draft the published version. Whole or not at all: walls, stored companies and indexes move with it. */
export function publish(file: PortalFile, owner: Owner, upheld: Upheld, note = ""): Result<{ version: number }, DraftError> {
  file.db.pragma("synchronous = FULL"); // a change of access must outlive a power cut
  try {
    return file.db.transaction(() => {
      const draft = draftOf(file, owner);
      if (draft.revision !== upheld.revision) return err({ code: "stale" as const });
      const problems = [...definitionProblems(draft.definition, schemaOf(file)), ...strandedHolders(file, owner, draft.definition)];
      if (problems.length > 0) return err({ code: "invalid" as const, messages: problems });
      return ok({ version: storePublished(file, draft.definition, owner.person?.name ?? "owner", note) });
    })();
  } finally {
    file.db.pragma("synchronous = NORMAL");
  }
}

/** Roles that somebody holds now and that these rules do not have: publishing would take everything from them without a word. */
export function strandedHolders(file: PortalFile, owner: Owner, next: Definition): string[] {
  const holders = roleHolders(file, owner);
  const staying = new Set(next.roles.map((r) => r.id));
  return published(file)
    .definition.roles.filter((r) => !staying.has(r.id) && holders.has(r.id))
    .map((r) => {
      const n = holders.get(r.id)!;
      return `${n === 1 ? "One person holds" : `${n} people hold`} the role ${r.name}, which the draft does not have. Give them another role first.`;
    });
}

export function storePublished(file: PortalFile, definition: Definition, by: string, note = ""): number {
  const schema = schemaOf(file);
  const version = (file.orm.select().from(t.definitions).orderBy(desc(t.definitions.version)).limit(1).get()?.version ?? 0) + 1;
  const at = new Date().toISOString();
  file.orm
    .insert(t.definitions)
    .values({ version, body: JSON.stringify(definition), publishedAt: at, publishedBy: by, note })
    .run();
  writeMeta(file, "definition_version", String(version));
  file.orm.delete(t.draft).run();
  forgetSteps(file);
  const policy = new Policy(schema, definition);
  for (const table of schema.tables) {
    storeCompanies(file, policy, table.id);
    makePolicyIndexes(file, policy, table.id);
  }
  audit(file, { actor: by, act: "published", detail: `version ${version}` });
  return version;
}

export const discardDraft = (file: PortalFile, owner: Owner): void => {
  file.orm.delete(t.draft).run();
  forgetSteps(file);
  audit(file, { actor: owner.person?.name ?? "owner", act: "discarded the draft" });
};
