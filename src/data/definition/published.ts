/** The published definition with its compiled policy. */
import { desc, eq } from "drizzle-orm";
import { Policy } from "@/core/access/policy";
import { type Definition, readDefinition, writeDefinition } from "@/core/definition/definition";
import { type Actor, actorText } from "@/core/events/event";
import type { Result } from "@/core/result";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { enqueue } from "../jobs/queue";
import { keepBooks } from "../tables/books-tables";
import { storeCompanies, wallMoved } from "../tables/company";
import { indexChanges, indexesNow, isLarge, POLICY_INDEXES } from "../tables/indexes";
import { readMeta, writeMeta } from "../tables/meta";
import { schemaOf } from "../tables/read";
import { forgetDraft } from "./draft-parts";
import { keepPageAddresses } from "./page-addresses";

export interface Published {
  readonly version: number;
  readonly definition: Definition;
  readonly policy: Policy;
}

const compiled = new WeakMap<PortalFile, { key: string; published: Published }>();

/** Compiled once for each version. */
export function published(file: PortalFile): Published {
  const schema = schemaOf(file);
  const version = Number(readMeta(file, "definition_version") ?? 0);
  const key = `${version} ${schema.version}`;
  const known = compiled.get(file);
  if (known?.key === key) return known.published;
  const definition = definitionOf(file, version);
  if (!definition?.ok)
    throw new Error(`Portal ${file.slug} has no published definition that can be read; createPortal publishes version 1.`);
  const result = { version, definition: definition.value, policy: new Policy(schema, definition.value) };
  compiled.set(file, { key, published: result });
  return result;
}

/** A version as it was; undefined where there is none of that number. */
export function definitionOf(file: PortalFile, version: number): Result<Definition, string[]> | undefined {
  const row = file.orm.select({ body: t.definitions.body }).from(t.definitions).where(eq(t.definitions.version, version)).get();
  return row && readDefinition(row.body);
}

/** Who publishes: shown by name in the list of versions. */
export interface Publisher {
  readonly actor: Actor;
  readonly name: string;
  readonly at: number;
}

/**
 * For a new portal, for its making and for `publish`, which checks first. Whose records are and indexes move with it.
 * @param walk "all" where records or tables changed in the same act, so that whose they are is worked out anew; "walls" where the rules alone
 * changed: then only tables whose wall is another are walked.
 */
export function storePublished(file: PortalFile, definition: Definition, by: Publisher, note = "", walk: "all" | "walls" = "all"): number {
  if (definition.plans.length > 0 || definition.offers.length > 0) keepBooks(file, definition.portal.currency);
  const schema = schemaOf(file);
  const before = walk === "walls" ? published(file) : null;
  const last = file.orm.select({ v: t.definitions.version }).from(t.definitions).orderBy(desc(t.definitions.version)).limit(1).get();
  const version = (last?.v ?? 0) + 1;
  const at = new Date(by.at).toISOString();
  file.orm
    .insert(t.definitions)
    .values({ version, body: writeDefinition(definition), publishedAt: at, publishedBy: by.name || actorText(by.actor), note })
    .run();
  writeMeta(file, "definition_version", String(version));
  forgetDraft(file);
  const policy = new Policy(schema, definition);
  let large = false;
  const there = indexesNow(file);
  for (const table of schema.tables) {
    if (!before || wallMoved(before.policy, policy, table.id)) storeCompanies(file, policy, table.id);
    const changes = indexChanges(policy, table.id, there);
    if (changes.length > 0 && before && isLarge(file, table.id)) large = true;
    else for (const sql of changes) file.db.exec(sql);
  }
  if (large) enqueue(file, POLICY_INDEXES, {}, by.at);
  if (last) keepPageAddresses(file, before?.definition ?? null, definition);
  record(file, { actor: by.actor, via: "page", at: by.at, kind: "published", detail: `version ${version}` });
  return version;
}
