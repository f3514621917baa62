/** What the draft would change for everybody, gathered by company and roles, with a few of the records by name. */

import { draftPolicy, type Policy } from "@/core/access/policy";
import type { Predicate } from "@/core/access/predicate";
import type { Definition } from "@/core/definition/definition";
import { Memo } from "@/core/memo";
import { crossingBy, gainedBy, type Shift, type ShiftCounts, shiftOf, touchedTables } from "@/core/review/impact";
import { Background, type Outcome, type Pace, stampOf } from "@/data/definition/background";
import { draftOf } from "@/data/definition/draft";
import { once } from "@/data/file/per-process";
import { countWhere, ManyCounter } from "@/data/records/counting/count-many";
import { Desk } from "@/data/records/desk";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Crowd, type Someone } from "@/identity/viewers/crowd";

export interface Group {
  /** Company, or the agency, or visitors. */
  readonly where: string;
  readonly roles: string;
  readonly people: readonly string[];
  readonly shifts: readonly (Shift & {
    readonly name: string;
    readonly slug: string;
    readonly gainedNames: string[];
    /** Names of the records among them that another company owns. */
    readonly crossingNames: string[];
    readonly lostNames: string[];
  })[];
}

export interface Impact {
  /** Groups of whom somebody would see records that another company owns. */
  readonly across: readonly Group[];
  readonly groups: readonly Group[];
  readonly more: { readonly groups: number; readonly people: number };
  readonly untouched: number;
  /** Accounts that use the portal, or will once they sign in. */
  readonly active: number;
  /** How many of them have not been in yet. */
  readonly notInYet: number;
  /** People who wait for approval, and what they will see more and less of once they have it. */
  readonly later: Readonly<Record<"more" | "fewer", { readonly people: number; readonly tables: readonly string[] }>>;
}

const EXAMPLES = 3;
/** More groups than these are told as a number. */
const MOST_GROUPS = 100;

const reports = once("impact reports", () => new Background<Impact>());

/** What publishing the draft would change, for everybody; while it is being counted, how far that is. */
export function impactOf(p: OfficePortal): Promise<Outcome<Impact>> {
  const { definition, revision } = draftOf(p.file, p.owner);
  return reports.soon(p.file, "impact", stampOf(p.file, p.live, revision, p.now), (pace) => work(p, definition, pace));
}

async function work(p: OfficePortal, definition: Definition, pace: Pace): Promise<Impact> {
  const before = p.live.policy;
  const after = draftPolicy(before, definition);
  const [wereAll, were] = accounts(p, p.live.definition);
  const plansDiffer =
    JSON.stringify([definition.plans, definition.features]) !== JSON.stringify([p.live.definition.plans, p.live.definition.features]);
  const [areAll, are] = plansDiffer ? accounts(p, definition) : [wereAll, were];
  const [gained, lost] = [new ManyCounter(p.file, before.schema, p.owner), new ManyCounter(p.file, before.schema, p.owner)];
  // By table too: "every record" is one predicate for all of them.
  const alone = new Memo<Predicate, string, number>();
  const where = (t: string, predicate: Predicate): number => alone.of(predicate, t, () => countWhere(p.file, before.schema, t, predicate));
  const counts: ShiftCounts = {
    gained: (t, plan) => gained.count(t, plan),
    lost: (t, plan) => lost.count(t, plan),
    where,
  };
  const tables = touchedTables(before, after, plansDiffer);
  const shiftsOf = (was: Someone, is: Someone): Shift[] =>
    tables.flatMap((t) => shiftOf(before, after, was.viewer, is.viewer, t, counts) ?? []);
  const groups = new Map<string, { who: number[]; shifts: Shift[] }>();
  let untouched = 0;
  const later = { more: new Later(), fewer: new Later() };
  for (const [i, s] of are.entries()) {
    if (pace.due()) await pace.rest(i, are.length);
    const shifts = shiftsOf(were[i]!, s);
    for (const x of isWaiting(s) ? shiftsOf(wereAll[i]!, areAll[i]!) : []) {
      const { name } = before.schema.table(x.table);
      if (x.gained + x.fieldsGained.length > 0) later.more.note(s.personId!, name);
      if (x.lost + x.fieldsLost.length > 0) later.fewer.note(s.personId!, name);
    }
    if (shifts.length === 0) {
      untouched++;
      continue;
    }
    const key = JSON.stringify([s.companyId, s.roles, s.status === "visitor", shifts]);
    const known = groups.get(key);
    if (known) known.who.push(i);
    else groups.set(key, { who: [i], shifts });
  }
  const found = [...groups.values()].sort((a, b) => weight(b, "crossing") - weight(a, "crossing") || weight(b) - weight(a));
  const named: Group[] = [];
  for (const g of found.slice(0, MOST_GROUPS)) {
    if (pace.due()) await pace.rest(are.length, are.length);
    const first = g.who[0]!;
    named.push(
      nameGroup(
        p,
        definition,
        [before, were[first]!],
        [after, are[first]!],
        g.shifts,
        g.who.map((i) => are[i]!),
      ),
    );
  }
  const rest = found.slice(MOST_GROUPS);
  return {
    across: named.filter((g) => g.shifts.some((s) => s.crossing > 0)),
    groups: named,
    more: { groups: rest.length, people: rest.reduce((n, g) => n + g.who.length, 0) },
    untouched,
    active: are.filter((s) => s.viewer.person?.status === "active").length,
    notInYet: new Set(are.flatMap((s) => (s.status === "invited" ? [s.personId] : []))).size,
    later: { more: later.more.counted(), fewer: later.fewer.counted() },
  };
}

class Later {
  readonly #people = new Set<string>();
  readonly #tables = new Set<string>();
  note(person: string, table: string): void {
    this.#people.add(person);
    this.#tables.add(table);
  }
  counted = () => ({ people: this.#people.size, tables: [...this.#tables] });
}

/** Everybody as though they were active already, and as they are. */
function accounts(p: OfficePortal, definition: Definition): [Someone[], Someone[]] {
  const crowd = new Crowd(p.file, definition, p.owner, p.now);
  return [crowd.everyone({ asActive: true }), crowd.everyone()];
}

const isWaiting = (s: Someone): boolean => s.status === "awaiting approval";

/** What moves most comes first, what crosses before all else. */
const weight = (g: { shifts: readonly Shift[]; who: readonly number[] }, of?: "crossing"): number =>
  g.shifts.reduce((n, s) => n + (of ? s.crossing : s.gained + s.lost + s.fieldsGained.length + s.fieldsLost.length), 0) * g.who.length;

type Side = readonly [policy: Policy, who: Someone];

function nameGroup(p: OfficePortal, definition: Definition, was: Side, is: Side, shifts: readonly Shift[], who: readonly Someone[]): Group {
  const [before] = was;
  const [after, someone] = is;
  const examples = (t: string, within: Predicate | null): string[] => {
    const table = before.schema.table(t);
    if (!within) return [];
    // Records may share a name; three names say more than one name three times.
    const some = new Desk(p.file, before, p.owner).list(table, {
      within,
      limit: 10 * EXAMPLES,
      only: new Set([table.labelFieldId]),
    }).records;
    return [...new Set(some.map((r) => String(r.fields[table.labelFieldId] ?? table.singular)))].slice(0, EXAMPLES);
  };
  const [a, b] = [was[1].viewer, is[1].viewer];
  return {
    where: someone.company ?? (someone.status === "visitor" ? "Visitors" : definition.portal.name),
    roles: someone.roles.map((r) => after.role(r)?.name ?? r).join(", "),
    people: who.flatMap((s) => (s.personId ? [s.name] : [])),
    shifts: shifts.map((s) => ({
      ...s,
      name: before.schema.table(s.table).name,
      slug: before.schema.table(s.table).slug,
      fieldsGained: s.fieldsGained.map((f) => before.schema.field(f).name),
      fieldsLost: s.fieldsLost.map((f) => before.schema.field(f).name),
      gainedNames: examples(s.table, s.gained > 0 ? gainedBy(before, after, a, b, s.table) : null),
      crossingNames: examples(s.table, s.crossing > 0 ? crossingBy(before, after, a, b, s.table) : null),
      lostNames: examples(s.table, s.lost > 0 ? gainedBy(after, before, b, a, s.table) : null),
    })),
  };
}
