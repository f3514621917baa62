import { namedIn } from "@/core/exchange/names-in-cells";
import { nearest } from "@/core/exchange/nearest";
import { err, ok, type Result } from "@/core/result";
import type { Reading } from "@/core/schema/fields/kind";
import {
  choosesOne,
  choosesSeveral,
  hasChoices,
  holdsFiles,
  isAutomatic,
  isRelation,
  pointsToOne,
  pointsToSeveral,
} from "@/core/schema/fields/natures";
import { cleanLine } from "@/core/schema/fields/text";
import { type Field, type FieldType, isEmpty, kindOf, type Value } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { sqlName } from "@/core/text/sql-name";
import { published } from "../definition/published";
import { newId } from "../file/ids";
import type { PortalFile } from "../file/open";
import { keyOf, Lookup, lookedUpBy } from "../tables/lookup";
import { type MadeTable, madeTableProblem } from "../tables/made-table";
import { decodeValue, hasColumn, linkTableName } from "../tables/physical";
import { schemaOf } from "../tables/read";
import { type Plain, plainly } from "./retype-plain";
import type { Standing, Turned } from "./retype-write";

export interface RetypeAsk {
  readonly field: string;
  readonly type: FieldType;
  /** Options of the new type: target, currency, decimals. Choices are taken from the words that stand there. */
  readonly options: { target?: string; currency?: string; decimals?: number; plain?: boolean };
  readonly reading: Pick<Reading, "order" | "mark">;
  /** Of a relation: the field of the table pointed to that the words name records by; its name where none is said. */
  readonly by: string | null;
  /** For a relation: whether records that are not there are made. */
  readonly add: boolean;
  /** Of a relation: a table that is made of what the column says, a record for each different value. */
  readonly made?: MadeTable | null;
  /** What becomes of values that do not convert. */
  readonly rest: "refuse" | "empty" | "keep";
}

export interface Failing {
  readonly text: string;
  readonly records: number;
  readonly reason: string;
  readonly nearest: readonly string[];
}
export interface Trial {
  readonly converts: number;
  readonly empty: number;
  readonly fails: number;
  /** Different values that do not convert, the most frequent first. */
  readonly failing: readonly Failing[];
  /** Records of the table pointed to that would be made. */
  readonly made: readonly string[];
  readonly choices: number;
}

const SHOWN = 40;
const MOST_NEW_CHOICES = 200;

/** What a value says in words, as an import would write it. */
function textOf(f: Field, v: Value, labels: Lookup | null, timeZone: string): string {
  if (isEmpty(v)) return "";
  const kind = kindOf(f);
  if (f.options.choices)
    return (Array.isArray(v) ? v : [v]).map((id) => f.options.choices!.find((c) => c.id === id)?.name ?? String(id)).join("; ");
  if (labels) return (Array.isArray(v) ? v : [v]).map((id) => labels.nameOf(String(id)) ?? "").join("; ");
  return kind.texts(v as never, f, timeZone)[0] ?? "";
}

type Finder = Pick<Lookup, "find" | "names"> & { readonly table: Pick<Lookup["table"], "kind"> };
/** Finder for a table that is still to be made: it finds nothing. */
const NOTHING_YET: Finder = { find: () => undefined, names: [], table: { kind: "ordinary" } };

export interface Conversion {
  readonly trial: Trial;
  readonly next: Field;
  readonly values: readonly Turned[];
  readonly additions: ReadonlyMap<string, { id: string; name: string }>;
  /** Set where SQLite turns all of them; then `values` are none. */
  readonly plain: Plain | null;
}

export function convert(file: PortalFile, ask: RetypeAsk): Result<Conversion, string> {
  const schema = schemaOf(file);
  const field = schema.findField(ask.field);
  if (!field || field.system) return err("This field cannot be of another type.");
  if (holdsFiles(field) || holdsFiles({ type: ask.type })) return err("Files stay files: add a field for them instead.");
  if (isAutomatic(ask)) return err("Elkhorn makes such values itself: add a field of that type instead.");
  const unfit = ask.made ? madeTableProblem(schema, field, ask.type, ask.made) : null;
  if (unfit) return err(unfit);
  const { timeZone, currency } = published(file).definition.portal;
  const quick = ask.made ? null : convertPlainly(file, ask, field, currency);
  if (quick) return ok(quick);
  const labels = isRelation(field)
    ? new Lookup(file, schema.table(field.options.target), lookedUpBy(schema, field, null), lookedUpBy(schema, field, null))
    : null;
  const rows = standing(file, field, ask.type.startsWith("choice") || ask.type.startsWith("relation"));
  const texts = rows.map((r) => textOf(field, r.value, labels, timeZone));
  const made = optionsFor(ask, field, texts, currency);
  if (!made.ok) return made;
  const next = { ...field, type: ask.type, options: made.value } as Field;
  const finder: Finder | null = !isRelation(next)
    ? null
    : ask.made
      ? NOTHING_YET
      : new Lookup(file, schema.table(next.options.target), lookedUpBy(schema, next, ask.by), lookedUpBy(schema, next, null));
  const failing = new Map<string, { records: number; reason: string }>();
  const additions = new Map<string, { id: string; name: string }>();
  const known = new Map<string, Result<Value, string>>();
  const read = readerOf({ ask, next, finder, additions, timeZone });
  let [converts, empty, fails] = [0, 0, 0];
  const values = rows.map((r, i): Turned => {
    const text = texts[i]!;
    if (text === "") {
      empty += r.records;
      return { ...r, next: null, kept: null };
    }
    // Names of records are looked up once; each different value of a column comes once anyhow.
    let done = finder ? known.get(text) : undefined;
    if (!done) {
      done = read(text);
      if (finder) known.set(text, done);
    }
    const { raw, id, value, records } = r;
    if (done.ok) {
      converts += records;
      return { raw, id, value, records, next: done.value, kept: null };
    }
    fails += r.records;
    const noted = failing.get(text);
    if (noted) noted.records += r.records;
    else failing.set(text, { records: r.records, reason: done.error });
    return { ...r, next: null, kept: text };
  });
  const listed = [...failing].sort((a, b) => b[1].records - a[1].records).slice(0, SHOWN);
  const trial: Trial = {
    converts,
    empty,
    fails,
    failing: listed.map(([text, f]) => ({
      text: text.slice(0, 120),
      ...f,
      nearest: finder ? nearest(text, finder.names).map((x) => x.name) : [],
    })),
    made: [...additions.values()].map((a) => a.name).slice(0, SHOWN),
    choices: next.options.choices?.length ?? 0,
  };
  return ok({ trial, next, values, additions, plain: null });
}

interface Reader {
  readonly ask: RetypeAsk;
  readonly next: Field;
  readonly finder: Finder | null;
  /** Records that are to be made, by what they are called; filled as values are read. */
  readonly additions: Map<string, { id: string; name: string }>;
  readonly timeZone: string;
}

/** Reads one value as the new type has it; of a relation, by what records are called. */
const readerOf =
  ({ ask, next, finder, additions, timeZone }: Reader) =>
  (text: string): Result<Value, string> => {
    if (!finder) return kindOf(next).parse([text], next, { ...ask.reading, timeZone });
    // What records are called has one line, so that is what is looked for.
    const line = cleanLine(text);
    const parts = pointsToSeveral(next) ? namedIn(line, (t) => finder.find(t, null) !== undefined) : [line];
    const ids: string[] = [];
    for (const part of parts) {
      const found = finder.find(part, null);
      if (found === "many") return err("More than one is called so.");
      if (found) ids.push(found.id);
      else if ((ask.add || ask.made) && finder.table.kind !== "people") {
        const key = keyOf(part);
        if (!additions.has(key)) additions.set(key, { id: newId(), name: part.trim().slice(0, 120) });
        ids.push(additions.get(key)!.id);
      } else return err("Nothing is called so.");
    }
    return ok(pointsToSeveral(next) ? ids : (ids[0] ?? null));
  };

function convertPlainly(file: PortalFile, ask: RetypeAsk, field: Field, currency: string): Conversion | null {
  if (kindOf(ask).many || choosesOne(ask) || pointsToOne(ask)) return null;
  const options = optionsFor(ask, field, [], currency);
  if (!options.ok) return null;
  const next = { ...field, type: ask.type, options: options.value } as Field;
  const plain = plainly(file, field, next);
  if (!plain) return null;
  const { converts, empty } = plain;
  return { trial: { converts, empty, fails: 0, failing: [], made: [], choices: 0 }, next, values: [], additions: new Map(), plain };
}

/** `asWritten` is in the order of the records, for words that become choices or records. Each different value once: a column of a hundred thousand mostly says the same few things. */
function standing(file: PortalFile, field: Field, asWritten: boolean): Standing[] {
  const table = sqlName(field.tableId);
  if (hasColumn(field)) {
    // Counted here: SQLite would sort the values to group them.
    const all = file.db
      .prepare(`SELECT ${sqlName(field.id)} FROM ${table}${asWritten ? " ORDER BY rowid" : ""}`)
      .pluck()
      .all();
    const counts = new Map<string | number | null, number>();
    for (const raw of all as (string | number | null)[]) counts.set(raw, (counts.get(raw) ?? 0) + 1);
    return Array.from(counts, ([raw, records]) => ({ raw, id: null, value: decodeValue(field, raw), records }));
  }
  const link = sqlName(linkTableName(field));
  const rows = file.db
    .prepare(`SELECT t.id, (SELECT json_group_array(target_id) FROM ${link} WHERE record_id = t.id) FROM ${table} t`)
    .raw()
    .all() as [string, string][];
  return rows.map(([id, ids]) => ({ raw: null, id, value: JSON.parse(ids) as string[], records: 1 }));
}

/** Choices are the words that stand there, in their order. */
function optionsFor(ask: RetypeAsk, field: Field, texts: readonly string[], currency: string): Result<Field["options"], string> {
  const { required, help, offForms, offSearch } = field.options;
  const unique = field.options.unique && hasColumn(ask as Pick<Field, "type">);
  const onRemoval = pointsToOne(ask) ? field.options.onRemoval : undefined;
  const shared = Object.fromEntries(Object.entries({ required, help, offForms, offSearch, unique, onRemoval }).filter(([, v]) => v));
  if (ask.made) return ok({ target: "", ...shared } as never);
  if (isRelation(ask) && !ask.options.target) return err("Choose the table that it points to.");
  if (!hasChoices(ask))
    return ok({
      ...kindOf({ type: ask.type }).options({ ...ask.options, currency: ask.options.currency ?? currency }),
      ...shared,
    } as Field["options"]);
  if (field.options.choices) return ok({ choices: field.options.choices, ...shared } as never);
  const parts = choosesSeveral(ask) ? texts.flatMap((x) => x.split(/[;,]/)) : texts;
  // However one is written elsewhere, it is called as it is written first.
  const names = new Map<string, string>();
  for (const p of parts.map((x) => x.trim()).filter(Boolean)) if (!names.has(fold(p))) names.set(fold(p), p);
  if (names.size > MOST_NEW_CHOICES)
    return err(`There are ${names.size.toLocaleString("en-GB")} different values; a field has ${MOST_NEW_CHOICES} choices at the most.`);
  const long = [...names.values()].find((n) => n.length > 120);
  if (long) return err(`“${long.slice(0, 60)}…” is too long for a choice.`);
  return ok({ choices: [...names.values()].sort().map((name) => ({ id: `new ${name}`, name })), ...shared } as never);
}
