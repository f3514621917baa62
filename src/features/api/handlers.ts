/** The calls of the HTTP API. Each is: viewer, parse, decide (inside the repository), answer. */

import { PAYER } from "@/core/access/book-grants";
import { ACTIONS } from "@/core/access/rules";
import { recordJson } from "@/core/exchange/present";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import { dateIn } from "@/core/time/relative";
import { sayIn } from "@/core/words/words";
import { allowancesOf } from "@/data/billing/ledger";
import { standingOf } from "@/data/billing/standing";
import { membershipsOf, personFacts } from "@/data/people/people";
import { etagOf } from "@/data/records/write/write";
import { type Entered, passSecond } from "@/identity/entering/enter";
import { signInWithPassword } from "@/identity/entering/sign-in";
import { recordGuesses } from "@/identity/factors/guesses";
import type { From } from "@/identity/limits/limits";
import { clearSessionCookie, fromHere } from "@/identity/requests/cookies";
import { enterPortal } from "@/identity/requests/request";
import { endSession, findSession } from "@/identity/sessions/sessions";
import { invalid, issues, notFound, Problem } from "./problem";
import { listQuery } from "./query";
import { type ApiRequest, json, jsonBody, openTable, signedIn } from "./route";
import { credentialsBody, type MeAnswer, type SessionAnswer, type TablesAnswer } from "./schemas";

const WRONG = "That e-mail address and password do not go together.";

/** The second step in the same request: a session that waits for it is of no use to a program. */
async function fullyIn(r: ApiRequest, entered: Entered, code: string | undefined, from: From): Promise<string> {
  // Whoever waits for approval has a page that says so, and nothing here.
  if (personFacts(r.file, entered.personId)?.status !== "active") {
    endSession(r.file, entered.token);
    throw new Problem("not-signed-in", WRONG);
  }
  if (entered.step === "in") return entered.token;
  const half = findSession(r.file, entered.token, r.viewer.now)!;
  const passed =
    code === undefined
      ? null
      : passSecond(r.file, half, code, from, r.viewer.now, (what) => recordGuesses(r.file, half.personId, what, r.viewer.now));
  if (passed?.ok) return passed.value.token;
  endSession(r.file, entered.token);
  if (passed?.error.code === "too-many") throw new Problem("too-many", `Too many tries. Wait ${passed.error.seconds} seconds.`);
  if (passed?.error.code === "stopped") throw new Problem("not-signed-in", sayIn(r.published.definition.portal.locale)("second.stopped"));
  throw new Problem(
    "not-signed-in",
    entered.step === "enrol"
      ? "A second factor is asked of this person, who has none yet: sign in on the portal's pages once."
      : "This person has a second factor: send the code that it shows now as `code`.",
  );
}

/** POST e-mail and password for a session's cookie. 401 where they do not match, 429 where one has to wait. */
export async function postSession(r: ApiRequest): Promise<Response> {
  if (r.viewer.key) throw new Problem("not-allowed", "A key needs no session: send it with each request.");
  const body = credentialsBody.safeParse(await jsonBody(r.request));
  if (!body.success) throw invalid("An e-mail address and a password are needed.", issues(body.error));
  const { email, password } = body.data;
  const from = await fromHere(r.file.id, r.base, email);
  const done = await signInWithPassword(r.file, email, password, from, r.viewer.now);
  if (!done.ok) {
    if (done.error.code === "too-many")
      throw new Problem("too-many", `Too many tries. Wait ${done.error.seconds} seconds.`, undefined, {
        "retry-after": String(done.error.seconds),
      });
    throw new Problem("not-signed-in", done.error.code === "shut" ? "Passwords open nothing here for this person." : WRONG);
  }
  await enterPortal(r.file, r.base, await fullyIn(r, done.value, body.data.code, from), email);
  const person = personFacts(r.file, done.value.personId)!;
  const first = membershipsOf(r.file, person.id)[0];
  const answer: SessionAnswer = {
    person: { id: person.id, name: person.name, email: person.email },
    company: companyJson(first),
    roles: roleNames(r, first?.roles ?? []),
    passwordNeeded: done.value.mustChoosePassword,
  };
  return json(answer);
}

/** DELETE one's own session: 204, also where there is none. */
export async function deleteSession(r: ApiRequest): Promise<Response> {
  const token = await clearSessionCookie(r.file.id, r.base);
  if (token) endSession(r.file, token);
  return new Response(null, { status: 204 });
}

const companySlug = (c: NonNullable<ApiRequest["viewer"]["company"]>): string => String(c.values.f_company_slug ?? "");
const companyJson = (m: { companyId: string | null; companyName: string | null; companySlug: string | null } | undefined) =>
  m?.companyId ? { id: m.companyId, name: m.companyName, slug: m.companySlug } : null;
const roleNames = (r: ApiRequest, ids: readonly string[]): { id: string; name: string }[] =>
  ids.map((id) => ({ id, name: r.published.policy.role(id)?.name ?? id }));

/** GET who one is, by which roles, and what is left of the month's allowances. */
export function getMe(r: ApiRequest): Response {
  signedIn(r);
  const { company } = r.viewer;
  const person = r.viewer.person && personFacts(r.file, r.viewer.person.id)!;
  const all = person ? membershipsOf(r.file, person.id) : [];
  const { definition } = r.published;
  const today = dateIn(r.viewer.now, r.viewer.timeZone);
  const standing = r.viewer.company ? standingOf(r.file, definition, r.viewer.company.id, today) : null;
  const allowances = standing ? allowancesOf(r.file, standing, r.viewer.company!.id, today) : [];
  const answer: MeAnswer = {
    person: person && { id: person.id, name: person.name, email: person.email },
    company: company && { id: company.id, name: company.name, slug: companySlug(company) },
    memberships: all.map((m) => ({ id: m.id, company: companyJson(m), roles: roleNames(r, m.roles) })),
    // Roles that count now: while a company has to pay, they are others than those it was given.
    roles: roleNames(
      r,
      r.viewer.roles.filter((id) => id !== PAYER),
    ),
    features: [...r.viewer.features],
    allowances: allowances.map(({ table, ...a }) => ({ table: r.published.policy.schema.table(table).slug, ...a })),
  };
  return json(answer);
}

/** GET the tables that are open to the viewer, with their fields and actions. */
export const getTables = (r: ApiRequest): Response => json(tablesOf(r));

/** Tables and fields that are open to the viewer, with what may be done. */
export function tablesOf(r: ApiRequest): TablesAnswer {
  const tables: TablesAnswer["tables"] = r.desk.schema.tables
    .filter((t) => r.desk.may(t, "see"))
    .map((t) => {
      const set = new Set([...r.desk.settable(t, "add"), ...r.desk.settable(t, "change")]);
      const fields = r.desk.known(t).map((f) => ({
        slug: f.slug,
        name: f.name,
        type: f.type,
        actions: set.has(f) ? (["see", "change"] as const).slice() : ["see" as const],
      }));
      return { slug: t.slug, name: t.name, actions: ACTIONS.filter((a) => r.desk.may(t, a)), fields };
    });
  return { tables };
}

/** GET a page of a table's records. 422 where the query is not understood. */
export function getRecords(r: ApiRequest): Response {
  const table = openTable(r);
  const { query, next } = listQuery(r, table);
  const page = r.desk.list(table, query);
  const total = r.desk.count(table, { condition: query.condition ?? null, search: query.search ?? "" });
  return json({
    records: page.records.map((x) => recordJson(table, x)),
    total,
    nextCursor: next(page),
  });
}

/** GET one record with its ETag. 404 where the viewer does not see it. */
export function getRecord(r: ApiRequest): Response {
  const table = openTable(r);
  const record = r.desk.read(table, r.params.id ?? "");
  if (!record) throw notFound();
  return recordResponse(table, record, 200);
}

const recordResponse = (table: Table, record: SeenRecord, status: number): Response =>
  json(recordJson(table, record), { status, headers: { etag: etagOf(record) } });
