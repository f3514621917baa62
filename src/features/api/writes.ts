/** Writes through the HTTP API: of one record, or of up to a thousand together. */

import { reasonSentence } from "@/core/access/words/wording";
import { fromJson, recordJson } from "@/core/exchange/present";
import { isOffered } from "@/core/prices/prices";
import type { Table, Value } from "@/core/schema/types";
import { attempt, refuse as takeBack } from "@/data/file/attempt";
import { transact } from "@/data/file/transact";
import { usedUpWords } from "@/data/records/form";
import type { WriteError } from "@/data/records/write/incoming";
import { etagOf } from "@/data/records/write/write";
import { apiWrite } from "./once";
import { type FieldProblem, invalid, issues, notFound, Problem } from "./problem";
import { type ApiRequest, jsonBody, openTable, signedIn } from "./route";
import { type BulkResult, type BulkWrite, bulkBody, fieldsBody } from "./schemas";

export function givenFields(r: ApiRequest, table: Table, fields: Readonly<Record<string, unknown>>): Record<string, Value> {
  const known = r.desk.nameable(table);
  const values: Record<string, Value> = {};
  const errors: FieldProblem[] = [];
  for (const [slug, v] of Object.entries(fields)) {
    const field = known.find((f) => f.slug === slug);
    const read = field && fromJson(field, v);
    if (!field) errors.push({ field: slug, message: "There is no such field." });
    else if (read?.ok) values[field.id] = read.value;
    else if (read) errors.push({ field: slug, message: read.error });
  }
  if (errors.length > 0) throw invalid("Some fields are not valid.", errors);
  return values;
}

/** Where what is needed is had: the plans that open it, by name, and their page. */
function wayTo(r: ApiRequest, feature: string): Record<string, string> {
  const company = r.viewer.company?.id ?? null;
  const { plans } = r.published.definition;
  const opening = plans.filter((p) => p.features.includes(feature) && isOffered(p, company));
  return { way: "/plans", ...(opening.length > 0 ? { plans: opening.map((p) => p.name).join(", ") } : {}) };
}
/** What may be bought beside the plan, where something is sold that adds to it. */
function topUpFor(r: ApiRequest, table: string): Record<string, string> {
  const offer = r.published.definition.offers.find((o) => !o.retired && o.opens.kind === "top-up" && o.opens.table === table);
  return offer ? { buy: `/-/buy?offer=${offer.id}` } : {};
}

export function refuse(r: ApiRequest, table: Table, e: WriteError): Problem {
  const slug = (id: string): string => r.published.policy.schema.findField(id)?.slug ?? id;
  switch (e.code) {
    case "not-found":
      return notFound();
    case "not-allowed": {
      const fields = e.reasons.flatMap((x) =>
        x.code === "field" ? [{ field: slug(x.field), message: "This field may not be set by you." }] : [],
      );
      const detail =
        fields.length > 0 ? reasonSentence(r.published.policy, e.reasons[0]!) : `Your roles do not allow this on ${table.name}.`;
      return new Problem("not-allowed", detail, fields.length > 0 ? fields : undefined);
    }
    case "plan-needed":
      return new Problem("plan-needed", `This is not part of your company's plan.`, undefined, {}, undefined, wayTo(r, e.feature));
    case "used-up":
      return new Problem("plan-needed", usedUpWords(e), undefined, {}, undefined, {
        way: "/plans",
        again: e.again,
        ...topUpFor(r, e.table),
      });
    case "invalid":
      return invalid(
        "Some fields are not valid.",
        e.errors.map((x) => ({ field: slug(x.field), message: x.message })),
      );
    case "stale":
      return new Problem("stale", "Somebody changed this record after you read it. Read it again, then make your change.");
  }
}

/**
 * RFC 9110 section 13.1.1: of several validators one must be the record's; a weak one never is; "*" asks only that there be a record, which
 * changing and removing ask anyway.
 */
function ifMatch(r: ApiRequest, table: Table, id: string, header: string | null): string | null {
  const given = header?.trim();
  if (!given || given === "*") return null;
  const all = given.match(/(?:W\/)?"[\x21\x23-\x7e\x80-\xff]*"/g) ?? [];
  if (all.length < 2) return given;
  const now = r.desk.read(table, id);
  const is = now && etagOf(now);
  return all.find((x) => x === is) ?? all[0]!;
}

const oneBody = async (r: ApiRequest): Promise<Given> => {
  const body = fieldsBody.safeParse(await jsonBody(r.request));
  if (!body.success) throw invalid("A body is { fields: { ... } }.", issues(body.error));
  return body.data.fields;
};
type Given = Readonly<Record<string, unknown>>;

export const postRecord = apiWrite(oneBody, (r, given) => {
  const table = openTable(r);
  signedIn(r);
  const done = r.desk.add(table, givenFields(r, table, given));
  if (!done.ok) throw refuse(r, table, done.error);
  const record = r.desk.read(table, done.value.id);
  const location = `${r.base}/api/v1/tables/${table.slug}/records/${done.value.id}`;
  // What was added may lie outside of what they see.
  const body = record ? recordJson(table, record) : { id: done.value.id, fields: {} };
  return { status: 201, body, headers: { location, ...(record ? { etag: etagOf(record) } : {}) } };
});

export const patchRecord = apiWrite(oneBody, (r, given) => {
  const table = openTable(r);
  signedIn(r);
  const id = r.params.id ?? "";
  const done = r.desk.change(table, id, givenFields(r, table, given), ifMatch(r, table, id, r.request.headers.get("if-match")));
  if (!done.ok) throw refuse(r, table, done.error);
  const record = done.value.read();
  return { status: 200, body: recordJson(table, record), headers: { etag: etagOf(record) } };
});

export const deleteRecord = apiWrite(
  async () => null,
  (r) => {
    const table = openTable(r);
    signedIn(r);
    const id = r.params.id ?? "";
    const done = r.desk.remove(table, id, ifMatch(r, table, id, r.request.headers.get("if-match")));
    if (!done.ok) throw refuse(r, table, done.error);
    return { status: 204, body: null, headers: {} };
  },
);

const BULK_BYTES = 10 * 1024 * 1024;

/**
 * Up to a thousand writes with a result each, in their order and in one transaction. Each is decided as if it came alone; with `all` none of
 * them stays where one is refused.
 */
export const postBulk = apiWrite(
  async (r) => {
    // Before ten megabytes are read: nobody else may have them read.
    openTable(r);
    signedIn(r);
    const body = bulkBody.safeParse(await jsonBody(r.request, BULK_BYTES));
    if (!body.success) throw invalid("A body is { writes: [ ... ] }, of at most 1,000.", issues(body.error).slice(0, 20));
    return body.data;
  },
  (r, { writes, all }) => {
    const table = openTable(r);
    signedIn(r);
    const results = (): BulkResult[] => writes.map((w) => bulkOne(r, table, w));
    if (!all) return { status: 200, body: { results: transact(r.file, results) }, headers: {} };
    let done: BulkResult[] = [];
    const whole = attempt(r.file, () => {
      done = results();
      return done.every((x) => x.status < 300) ? done : takeBack(null);
    });
    if (whole.ok) return { status: 200, body: { results: whole.value }, headers: {} };
    const kept = done.map((x): BulkResult => (x.status < 300 ? { status: 424, problem: NOT_KEPT } : x));
    return { status: 422, body: { results: kept }, headers: {} };
  },
);

/** RFC 4918 section 11.4: 424, since another of them failed. */
const NOT_KEPT = { type: "not-kept", detail: "Another of these writes was refused, so this one was not kept." };

function bulkOne(r: ApiRequest, table: Table, w: BulkWrite): BulkResult {
  try {
    if (w.do === "add") {
      const done = r.desk.add(table, givenFields(r, table, w.fields));
      if (!done.ok) throw refuse(r, table, done.error);
      return { status: 201, id: done.value.id };
    }
    const match = ifMatch(r, table, w.id, w.ifMatch ?? null);
    const done = w.do === "change" ? r.desk.change(table, w.id, givenFields(r, table, w.fields), match) : r.desk.remove(table, w.id, match);
    if (!done.ok) throw refuse(r, table, done.error);
    return { status: w.do === "change" ? 200 : 204, id: w.id };
  } catch (e) {
    if (!(e instanceof Problem)) throw e;
    const { type, detail, errors } = e;
    return { status: e.statusCode, problem: { type, detail, ...(errors ? { errors: [...errors] } : {}) } };
  }
}
