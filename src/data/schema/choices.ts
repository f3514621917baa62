/** The choices of a field: named, ordered, added, and taken away with what becomes of the records that have them. */

import { eq } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { testsOf } from "@/core/schema/condition";
import { type Choice, type Field, kindOf, type Tone } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { record } from "../events/record";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { transact } from "../file/transact";
import { nextNumber } from "../tables/meta";
import { schemaOf } from "../tables/read";
import { seenOf } from "./shape";
import type { ShapeError } from "./shaping";

export interface ChoiceGiven {
  /** Id of a choice that is there; null for a new one. */
  readonly id: string | null;
  readonly name: string;
  readonly tone?: Tone | undefined;
}

export interface ChoicesGiven {
  /** In their order. Those that are not named go. */
  readonly choices: readonly ChoiceGiven[];
  /** For each that goes: the choice that its records get instead, or null for none. */
  readonly instead: Readonly<Record<string, string | null>>;
}

export const MOST_CHOICES = 200;
export const MOST_CHOICE_NAME = 120;

/** How many records have each choice. */
export function choiceCounts(file: PortalFile, field: Field): Record<string, number> {
  const of = kindOf(field).many ? `json_each(${sqlName(field.id)}) j` : null;
  const text = of
    ? `SELECT j.value, count(*) FROM ${sqlName(field.tableId)}, ${of} GROUP BY 1`
    : `SELECT ${sqlName(field.id)}, count(*) FROM ${sqlName(field.tableId)} WHERE ${sqlName(field.id)} IS NOT NULL GROUP BY 1`;
  return Object.fromEntries(file.db.prepare(text).raw().all() as [string, number][]);
}

/** Ids of the choices that rules test or set: one that goes would leave them meaning something else. */
export function testedChoices(d: Definition, field: Field): Set<string> {
  const found = new Set<string>();
  const see = (v: unknown): void => {
    for (const x of Array.isArray(v) ? v : [v]) if (typeof x === "string") found.add(x);
  };
  for (const g of d.grants)
    for (const test of testsOf(g.filter))
      if (test.path.at(-1) === field.id) for (const o of test.operands) if (o.kind === "literal") see(o.value);
  for (const a of d.acts) for (const s of a.sets) if (s.field === field.id && s.to.kind === "literal") see(s.to.value);
  return found;
}

/**
 * Renames, orders and removes choices; records that hold a removed one get what was chosen for them. `seen` is the state that was looked
 * at.
 */
export function changeChoices(
  file: PortalFile,
  owner: Owner,
  fieldId: string,
  given: ChoicesGiven,
  seen: string,
): Result<null, ShapeError> {
  return transact(file, (): Result<null, ShapeError> => {
    const field = schemaOf(file).findField(fieldId);
    if (!field?.options.choices || field.system) return err({ code: "refused", message: "This field has no choices to change." });
    if (seenOf(field) !== seen) return err({ code: "stale" });
    const problem = choicesProblem(field, given);
    if (problem) return err({ code: "refused", message: problem });
    const kept = new Set(given.choices.flatMap((c) => c.id ?? []));
    const gone = field.options.choices.filter((c) => !kept.has(c.id));
    for (const d of [published(file).definition, draftOf(file, owner).definition]) {
      const tested = testedChoices(d, field);
      const held = gone.filter((c) => tested.has(c.id));
      if (held.length > 0)
        return err({
          code: "refused",
          message: `${held.map((c) => `“${c.name}”`).join(", ")} cannot go while a grant or an act speaks of it. Change that first.`,
        });
    }
    const counts = choiceCounts(file, field);
    for (const c of gone) {
      if (!counts[c.id]) continue;
      const instead = given.instead[c.id];
      if (instead === undefined || (instead !== null && !kept.has(instead)))
        return err({
          code: "refused",
          message: `Say what becomes of the ${counts[c.id] === 1 ? "record" : `${counts[c.id]} records`} that have “${c.name}”.`,
        });
      replace(file, field, c.id, instead);
    }
    const choices = given.choices.map((c): Choice => {
      const name = c.name.trim();
      const former = formerNames(
        field.options.choices!.find((x) => x.id === c.id),
        name,
      );
      return {
        id: c.id ?? `c_${nextNumber(file, "choices")}`,
        name,
        ...(c.tone ? { tone: c.tone } : {}),
        ...(former.length > 0 ? { former } : {}),
      };
    });
    const fallback = field.options.default;
    const lost = fallback?.kind === "literal" && gone.some((c) => c.id === fallback.value);
    const { default: _, ...others } = field.options;
    const options = { ...(lost ? others : field.options), choices };
    file.orm
      .update(t.fields)
      .set({ options: JSON.stringify(options) })
      .where(eq(t.fields.id, fieldId))
      .run();
    nextNumber(file, "schema_version");
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "choices-changed", table: field.tableId, detail: field.name });
    return ok(null);
  });
}

const MOST_FORMER = 10;
/** What the choice was called until now, where it gets this name. */
function formerNames(was: Choice | undefined, name: string): string[] {
  if (!was) return [];
  const called = was.name === name ? [] : [was.name];
  return [...new Set([...called, ...(was.former ?? [])])].filter((n) => n !== name).slice(0, MOST_FORMER);
}

/** One more, after the others. For acts that do more: within their transaction, and said by them. */
export function addChoice(file: PortalFile, field: Field, name: string): string {
  const id = `c_${nextNumber(file, "choices")}`;
  store(file, field, [...(field.options.choices ?? []), { id, name }]);
  return id;
}

/** Those of these that no record has and no rule speaks of are taken away. For acts that do more, as above. */
export function dropUnusedChoices(file: PortalFile, owner: Owner, field: Field, ids: readonly string[]): void {
  const counts = choiceCounts(file, field);
  const tested = [published(file).definition, draftOf(file, owner).definition].map((d) => testedChoices(d, field));
  const fallback = field.options.default?.kind === "literal" ? field.options.default.value : null;
  const unused = new Set(ids.filter((id) => !counts[id] && !tested.some((t) => t.has(id)) && fallback !== id));
  if (unused.size > 0)
    store(
      file,
      field,
      (field.options.choices ?? []).filter((c) => !unused.has(c.id)),
    );
}

function store(file: PortalFile, field: Field, choices: readonly Choice[]): void {
  const options = JSON.stringify({ ...field.options, choices });
  file.orm.update(t.fields).set({ options }).where(eq(t.fields.id, field.id)).run();
  nextNumber(file, "schema_version");
}

function choicesProblem(field: Field, { choices }: ChoicesGiven): string | null {
  if (choices.length > MOST_CHOICES) return `A field has ${MOST_CHOICES} choices at the most.`;
  const known = new Set((field.options.choices ?? []).map((c) => c.id));
  if (choices.some((c) => c.id !== null && !known.has(c.id))) return "One of these choices is gone meanwhile. Load the page again.";
  const names = new Set<string>();
  for (const c of choices) {
    const name = c.name.trim();
    if (name === "") return "Give every choice a name, or take it away.";
    if (name.length > MOST_CHOICE_NAME) return `Keep a choice under ${MOST_CHOICE_NAME} characters.`;
    if (names.has(name.toLowerCase())) return `Two choices are called ${name}.`;
    names.add(name.toLowerCase());
  }
  return null;
}

function replace(file: PortalFile, field: Field, from: string, to: string | null): void {
  const table = sqlName(field.tableId);
  const column = sqlName(field.id);
  if (!kindOf(field).many) {
    file.db.prepare(`UPDATE ${table} SET ${column} = ?, version = version + 1 WHERE ${column} = ?`).run(to, from);
    return;
  }
  const rows = file.db
    .prepare(`SELECT id, ${column} FROM ${table} WHERE EXISTS (SELECT 1 FROM json_each(${column}) WHERE value = ?)`)
    .raw()
    .all(from) as [string, string][];
  const put = file.db.prepare(`UPDATE ${table} SET ${column} = ?, version = version + 1 WHERE id = ?`);
  for (const [id, ids] of rows) {
    const next = [...new Set((JSON.parse(ids) as string[]).flatMap((x) => (x === from ? (to ?? []) : x)))];
    put.run(next.length > 0 ? JSON.stringify(next) : null, id);
  }
}
