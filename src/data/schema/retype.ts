/**
 * A field of another type. A trial says how many values convert and which do not; then it is done, or refused, as one act. The field keeps
 * its id, so that whatever lists it goes on listing it; rules that compare with it must make sense of the new type.
 */

import { eq } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { isRelation } from "@/core/schema/fields/natures";
import type { FieldOf } from "@/core/schema/types";
import { type Field, kindOf } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import { reshape } from "../definition/reshape";
import { record } from "../events/record";
import { attempt, refuse } from "../file/attempt";
import { FULL } from "../file/full";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import * as t from "../file/portal-tables";
import { addCompany } from "../people/people";
import { addBare } from "../records/write/bare";
import { addField, indexUnique, type NewField } from "../tables/change";
import { storeCompanies } from "../tables/company";
import { exchangeColumn, FEW, letColumnsGo } from "../tables/exchange-column";
import { openedWith, withTable } from "../tables/made-table";
import { nextNumber } from "../tables/meta";
import { hasColumn, keyName } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { type Conversion, convert, type RetypeAsk, type Trial } from "./retype-convert";
import { writeCast, writeTurned } from "./retype-write";
import { repeated } from "./shape";
import type { ShapeError } from "./shaping";

/** What would be refused when it is done is refused here already. */
export function tryRetype(file: PortalFile, owner: Owner, ask: RetypeAsk): Result<Trial, ShapeError> {
  const done = convert(file, ask);
  const message = done.ok ? refusedLater(file, owner, ask, done.value) : done.error;
  return done.ok && message === null ? ok(done.value.trial) : err({ code: "refused", message: message ?? "" });
}

/**
 * Done and undone in one transaction. Values are written for it only where they must be unlike: of a large table that holds up other
 * writers, and the rules look at no values.
 */
function refusedLater(file: PortalFile, owner: Owner, ask: RetypeAsk, converted: Conversion): string | null {
  const work = (): void => {
    const whole = converted.next.options.unique === true;
    // What becomes of values that do not convert is asked after the trial.
    if (whole) carryOut(file, owner, { ...ask, rest: ask.rest === "refuse" ? "empty" : ask.rest }, converted);
    else {
      const { before, next, opened } = begin(file, ask, converted);
      if (isRelation(next) && converted.additions.size > 0) mustTakeNames(file, next);
      settleType(file, before, next);
      rulesFollow(file, owner, before, next, opened);
    }
  };
  const done = attempt(file, work, { really: false, full: FULL });
  return done.ok ? null : done.error;
}

export function retype(file: PortalFile, owner: Owner, ask: RetypeAsk): Result<Trial, ShapeError> {
  const done = attempt(
    file,
    () => {
      const converted = convert(file, ask);
      if (!converted.ok) refuse(converted.error);
      const { trial } = converted.value;
      if (trial.fails > 0 && ask.rest === "refuse")
        refuse(`${trial.fails === 1 ? "One value does" : `${trial.fails} values do`} not convert. Say what becomes of them.`);
      carryOut(file, owner, ask, converted.value);
      return trial;
    },
    { full: FULL },
  );
  if (!done.ok) return err({ code: "refused", message: done.error });
  reached("retype: it is done");
  return done;
}

/** The field as it is and as it is to be; of a table that is made with it, how the rules open that. */
function begin(file: PortalFile, ask: RetypeAsk, converted: Conversion) {
  const { made } = ask;
  const born = made ? withTable(file, made, converted.next) : null;
  const next = born?.field ?? converted.next;
  const before = schemaOf(file).field(ask.field);
  const table = schemaOf(file).table(before.tableId);
  if (before.id === table.labelFieldId && !kindOf(next).folds)
    refuse(`Every ${table.singular.toLowerCase()} is called by ${before.name}, so it must stay text.`);
  const opened = (d: Definition): Definition => (made && born ? openedWith(d, made, before.id, born.table) : d);
  return { before, table, next, opened };
}

function settleType(file: PortalFile, before: Field, next: Field): void {
  file.orm
    .update(t.fields)
    .set({ type: next.type, options: JSON.stringify(next.options) })
    .where(eq(t.fields.id, before.id))
    .run();
  nextNumber(file, "schema_version");
}

function rulesFollow(file: PortalFile, owner: Owner, before: Field, next: Field, opened: (d: Definition) => Definition): void {
  const table = schemaOf(file).table(before.tableId);
  const rules = reshape(file, owner, opened, `${before.name} of ${table.name} is ${kindOf(next).name.toLowerCase()} now`);
  if (!rules.ok) refuse(`The rules cannot follow: ${rules.error.join(" ")}`);
}

function carryOut(file: PortalFile, owner: Owner, ask: RetypeAsk, converted: Conversion): void {
  const { values, additions, trial, plain } = converted;
  const { before, table, next, opened } = begin(file, ask, converted);
  if (ask.rest === "keep" && trial.fails > 0) keepWords(file, before, values);
  const made = addMissing(file, owner, next, additions);
  reached("retype: records are made");
  const lasting = lastingChoices(file, next);
  const old = exchangeColumn(file, before, lasting, true);
  reached("retype: the column is exchanged");
  if (old && plain) writeCast(file, lasting, plain, old);
  else writeTurned(file, before, lasting, values, made, old);
  if (old) letColumnsGo(file, table.id, isRelation(before) ? 0 : FEW);
  settleType(file, before, lasting);
  if (lasting.options.unique) {
    const twice = repeated(file, table, lasting);
    if (twice.length > 0) refuse(`These would stand more than once, where all must be unlike: ${twice.join(", ")}.`);
    indexUnique(file, lasting);
  }
  // What imports noted of it is of the type that it was: taken back, those records count as touched.
  file.db
    .prepare("UPDATE sys_imports SET retyped = json_insert(retyped, '$[#]', ?) WHERE table_id = ? AND state = 'done'")
    .run(before.id, table.id);
  rulesFollow(file, owner, before, lasting, opened);
  if (isRelation(before) || isRelation(lasting)) {
    const { policy } = published(file);
    for (const x of policy.schema.tables) storeCompanies(file, policy, x.id);
  }
  record(file, {
    actor: actorOf(owner),
    via: "page",
    at: owner.now,
    kind: "field-retyped",
    table: table.id,
    detail: `${before.name}: ${before.type} to ${lasting.type}`,
  });
}

/** Words that do not convert stand in a field of their own, beside the one that they were in. */
function keepWords(file: PortalFile, before: Field, values: Conversion["values"]): void {
  const taken = new Set(file.db.prepare("SELECT slug FROM sys_fields WHERE table_id = ?").pluck().all(before.tableId) as string[]);
  let slug = `${before.slug}-before`;
  for (let n = 2; taken.has(slug); n++) slug = `${before.slug}-before-${n}`;
  const spec: NewField = { slug, name: `${before.name} (before)`.slice(0, 80), type: "long-text" };
  const id = addField(file, before.tableId, spec);
  const [column, by] = hasColumn(before) ? ["raw" as const, before.id] : ["id" as const, "id"];
  const put = file.db.prepare(
    `UPDATE ${sqlName(before.tableId)} SET ${sqlName(id)} = ?, ${sqlName(keyName(id))} = ? WHERE ${sqlName(by)} = ?`,
  );
  for (const v of values) if (v.kept !== null) put.run(v.kept, fold(v.kept), v[column]);
}

function addMissing(file: PortalFile, owner: Owner, next: Field, additions: Conversion["additions"]): ReadonlyMap<string, string> {
  const settled = new Map<string, string>();
  if (!isRelation(next)) return settled;
  const target = schemaOf(file).table(next.options.target);
  if (additions.size > 0) mustTakeNames(file, next);
  for (const a of additions.values()) {
    if (target.kind === "companies") {
      const added = addCompany(file, owner, a.name, {}, a.id);
      if (!added.ok) refuse(`${a.name}: ${added.error.message}`);
    } else {
      addBare(file, owner, target, { ...a, company: null });
    }
    settled.set(a.id, a.id);
  }
  return settled;
}

/** Records of a name alone can be made of the table that the relation points to. */
function mustTakeNames(file: PortalFile, next: FieldOf<"relation" | "relations">): void {
  const target = schemaOf(file).table(next.options.target);
  if (target.kind === "companies") return;
  if (target.fields.some((f) => f.options.required && !f.system && !f.options.default && f.id !== target.labelFieldId))
    refuse(`${target.name} need more than a name, so none can be made here.`);
}

function lastingChoices(file: PortalFile, next: Field): Field {
  if (!next.options.choices) return next;
  const choices = next.options.choices.map((c) => (c.id.startsWith("new ") ? { id: `c_${nextNumber(file, "choices")}`, name: c.name } : c));
  return { ...next, options: { ...next.options, choices } } as Field;
}
