/**
 * A table that is there made people, or companies (docs/design: settled 9 and 10): one transaction over data, live definition and draft,
 * tried first by being done and undone. Nothing is copied twice: rows move, record and field ids stay, relations lead to people.
 */

import type { Owner } from "@/core/access/who/viewer";
import { slugOf } from "@/core/address/slug";
import { movedBreaks, movedDefinition } from "@/core/definition/moved";
import { actorOf } from "@/core/events/event";
import type { Result } from "@/core/result";
import { pointsToOne } from "@/core/schema/fields/natures";
import type { Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { reshape } from "../definition/reshape";
import { record } from "../events/record";
import { attempt, refuse } from "../file/attempt";
import { FULL } from "../file/full";
import type { PortalFile } from "../file/open";
import { reached } from "../file/points";
import { addMembership, setShown } from "../people/people";
import { uniqueFields } from "../records/write/unique";
import { repeated } from "../schema/shape";
import { storeCompanies } from "../tables/company";
import { schemaOf } from "../tables/read";
import { askProblem, builtIn, type Making, type MakingAsk, planMaking } from "./ask";
import { fieldsOf, move, pointingFields } from "./move";

export interface MakingTrial {
  readonly made: number;
  /** Records of the table that are people or companies already. */
  readonly there: { readonly records: number; readonly names: readonly string[] };
  readonly stays: { readonly records: number; readonly which: readonly { readonly name: string; readonly why: string }[] };
  /** Relations that lead to people from now on: "Contact of Projects". */
  readonly turned: readonly string[];
  /** Fields that people have from now on. */
  readonly fields: readonly string[];
  /** Fields of other tables that hold what pointed to records which stay. */
  readonly beside: readonly string[];
  /** Grants that let somebody add or remove such records: that part of them ends. */
  readonly ends: number;
  /** How many people get a company, and how many get none yet. */
  readonly placed: number;
  readonly nowhere: number;
}

const SHOWN = 12;

/** `look` is called before and after within the transaction; its sentence refuses the whole. Nothing stays where `really` is not said. */
export interface Look {
  before(): void;
  after(): string | null;
}

/** Makes a table of a column that repeats; without `really` it tells what would come of it. A sentence where `look` refuses or the disk is full. */
export function makeOf(file: PortalFile, owner: Owner, ask: MakingAsk, really: boolean, look: Look): Result<MakingTrial, string> {
  const work = (): MakingTrial => {
    look.before();
    const trial = carriedOut(file, owner, ask);
    const refused = look.after();
    if (really && refused) refuse(refused);
    if (really) reached("making: it is done");
    return trial;
  };
  return attempt(file, work, { really, full: FULL });
}

function carriedOut(file: PortalFile, owner: Owner, ask: MakingAsk): MakingTrial {
  const schema = schemaOf(file);
  const live = published(file).definition;
  const problem = askProblem(schema, ask, live.roles);
  if (problem) refuse(problem);
  const breaks = new Set([live, draftOf(file, owner).definition].flatMap((d) => movedBreaks(d, ask.table)));
  if (breaks.size > 0) refuse(`It cannot be while something rests on it: ${[...breaks].join("; ")}.`);
  const planned = planMaking(file, schema, fieldsOf(file, ask.table), ask);
  if (!planned.ok) refuse(planned.error);
  const m = planned.value;
  const turned = pointingFields(file, ask.table)
    .filter((f) => f.tableId !== ask.table)
    .map((f) => `${f.name} of ${schema.findTable(f.tableId)?.name ?? "a table that is put away"}`);
  const company = m.fields.find((f) => f.id === ask.company);
  const ends = live.grants.filter((g) => g.table === ask.table && g.actions.some((a) => a === "add" || a === "remove")).length;
  const { rest, beside } = move(file, m, freeCompanySlug(file));
  const after = schemaOf(file);
  const target = after.table(m.target.id);
  refuseTwice(file, target);
  const rules = reshape(
    file,
    owner,
    (d) => {
      const moved = movedDefinition(d, {
        from: ask.table,
        to: m.target.id,
        fields: builtIn(ask),
        many: new Set(company !== undefined && pointsToOne(company) ? [company.id] : []),
        unset: new Set(target.fields.filter((f) => f.system).map((f) => f.id)),
      });
      return rest ? { ...moved, walls: { ...moved.walls, [rest]: { kind: "agency-only" } } } : moved;
    },
    `${m.table.name} are ${ask.into} now`,
  );
  if (!rules.ok) refuse(`The rules cannot follow: ${rules.error.join(" ")}`);
  reached("making: the rules follow");
  const placed = ask.into === "people" ? place(file, owner, m) : 0;
  const { policy } = published(file);
  for (const x of policy.schema.tables) storeCompanies(file, policy, x.id);
  note(file, owner, m);
  return told(m, {
    turned,
    ends,
    beside: beside.map((id) => after.findField(id)?.name ?? schemaOf(file).findField(id)?.name ?? ""),
    placed,
  });
}

function freeCompanySlug(file: PortalFile): (name: string, id: string) => string {
  const taken = new Set(file.db.prepare("SELECT f_company_slug_k FROM t_companies").pluck().all() as string[]);
  return (name) => {
    const slug = slugOf(name, "company", (s) => taken.has(fold(s)));
    taken.add(fold(slug));
    return slug;
  };
}

function refuseTwice(file: PortalFile, target: Table): void {
  for (const f of uniqueFields(target)) {
    const twice = repeated(file, target, f);
    if (twice.length > 0) refuse(`${f.name} would stand more than once, where all must be unlike: ${twice.join(", ")}.`);
  }
}

/** Each into the company that its record says, with the first roles; answers how many have a place now. */
function place(file: PortalFile, owner: Owner, m: Making): number {
  const { ask } = m;
  let placed = 0;
  const hasPlace = file.db.prepare("SELECT 1 FROM sys_memberships WHERE person_id = ? AND company_id IS ?");
  for (const f of m.fates) {
    if (f.kind === "stays") continue;
    const id = f.kind === "new" ? f.row.id : f.id;
    const companies = f.row.companies.length > 0 ? f.row.companies : [null];
    for (const company of companies) {
      const roles = [...(company ? ask.roles : ask.agencyRoles)];
      // Whoever has a place there already keeps it as it is.
      if (roles.length === 0 || (f.kind === "there" && (!company || hasPlace.get(id, company)))) continue;
      if (hasPlace.get(id, company)) continue;
      const added = addMembership(file, owner, id, company, roles);
      if (!added.ok) refuse(`${f.name}: ${added.error.message}`);
      placed++;
    }
    if (f.kind === "new" && ask.shown && f.row.companies.length === 0) setShown(file, owner, id, true);
  }
  return placed;
}

/** The log keeps what each record held that went into somebody who was there. */
function note(file: PortalFile, owner: Owner, m: Making): void {
  const by = { actor: actorOf(owner), via: "page" as const, at: owner.now };
  const of = m.ask.into === "people" ? "people" : "companies";
  const cause = record(file, { ...by, kind: of === "people" ? "people-made" : "companies-made", table: m.target.id, detail: m.table.name });
  for (const f of m.fates)
    if (f.kind === "there")
      record(file, { ...by, kind: "records-moved-in", table: m.target.id, record: f.id, detail: f.name, cause, before: f.row.values });
}

function told(m: Making, more: Pick<MakingTrial, "turned" | "ends" | "beside" | "placed">): MakingTrial {
  const instead = builtIn(m.ask);
  const there = m.fates.filter((f) => f.kind === "there");
  const stays = m.fates.flatMap((f) => (f.kind === "stays" ? [f] : []));
  const nowhere =
    m.ask.into === "companies" || m.ask.agencyRoles.length > 0
      ? 0
      : m.fates.filter((f) => f.kind === "new" && f.row.companies.length === 0).length;
  return {
    made: m.fates.filter((f) => f.kind === "new").length,
    there: { records: there.length, names: there.slice(0, SHOWN).map((f) => (f as { name: string }).name) },
    stays: {
      records: stays.length,
      which: stays.slice(0, SHOWN).map((f) => ({ name: String(f.row.values[m.ask.name] ?? ""), why: f.why })),
    },
    fields: m.fields.filter((f) => !instead.has(f.id)).map((f) => f.name),
    nowhere,
    ...more,
  };
}
