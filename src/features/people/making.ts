/**
 * A table made people or companies, as the owner asks for it: tried first, with what it does to who sees what and to the safeguards, then
 * done or refused as a whole. Both are looked at within the transaction, of the very records as they would be.
 */
import { all } from "@/core/access/predicate";
import { fieldWhere, scope } from "@/core/access/scope";
import type { Owner } from "@/core/access/who/viewer";
import { Memo } from "@/core/memo";
import { err, type Result } from "@/core/result";
import type { Schema } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import { type PortalFile, portalFile } from "@/data/file/open";
import type { MakingAsk } from "@/data/making/ask";
import { builtIn } from "@/data/making/ask";
import { type Look, type MakingTrial, makeOf } from "@/data/making/making";
import { countWhere } from "@/data/records/counting/count-many";
import { Desk } from "@/data/records/desk";
import { writersTask } from "@/data/threads";
import { Crowd, type Someone } from "@/identity/viewers/crowd";
import { brokenNow } from "@/office/checking";
import type { Looked } from "@/office/names";

/** Somebody who reads more, or less, of people or companies than before; of those alike in a company one line. */
export interface Shifted {
  readonly who: string;
  readonly where: string;
  readonly people: number;
  /** "E-mail of 3 more", in words of the owner. */
  readonly more: readonly string[];
  readonly less: readonly string[];
}

export interface Making extends MakingTrial {
  readonly shifted: readonly Shifted[];
  readonly broken: readonly string[];
}

const MOST_TOLD = 30;

const lookedAt = (file: PortalFile, owner: Owner): Looked => {
  const live = published(file);
  return { file, owner, live, now: owner.now, desk: new Desk(file, live.policy, owner) };
};

/** By who they are: how many values of each field of people, or companies, they read. Values of the old table count for where they went. */
function readBy(file: PortalFile, owner: Owner, ask: MakingAsk): { who: Map<string, Someone>; counts: Map<string, Map<string, number>> } {
  const { definition, policy } = published(file);
  const { schema } = policy;
  const crowd = new Crowd(file, definition, owner, owner.now).everyone({ asActive: true });
  const target = ask.into === "people" ? schema.people : schema.companies;
  const instead = builtIn(ask);
  const tables = [target, ...(schema.findTable(ask.table) ? [schema.table(ask.table)] : [])];
  const alone = new Memo<object, string, number>();
  const who = new Map<string, Someone>();
  const counts = new Map<string, Map<string, number>>();
  for (const s of crowd) {
    const key = `${s.personId ?? "visitor"} ${s.membershipId ?? ""}`;
    who.set(key, s);
    const own = new Map<string, number>();
    for (const table of tables) {
      const seen = scope(policy, s.viewer, table.id);
      if (seen.predicate.kind === "never") continue;
      for (const f of table.fields) {
        const field = fieldWhere(seen, f.id);
        if (field.kind === "never") continue;
        const where = field.kind === "always" ? seen.predicate : all([seen.predicate, field]);
        const n = alone.of(where, f.id, () => countWhere(file, schema, table.id, where));
        const at = instead.get(f.id) ?? f.id;
        own.set(at, (own.get(at) ?? 0) + n);
      }
    }
    counts.set(key, own);
  }
  return { who, counts };
}

type Read = ReturnType<typeof readBy>;

function shifts(before: Read, after: Read, schema: Schema): Shifted[] {
  const found = new Map<string, { s: Someone; n: number; more: string[]; less: string[] }>();
  for (const [key, s] of before.who) {
    const [were, are] = [before.counts.get(key)!, after.counts.get(key)];
    if (!are) continue;
    const more: string[] = [];
    const less: string[] = [];
    for (const id of new Set([...were.keys(), ...are.keys()])) {
      const by = (are.get(id) ?? 0) - (were.get(id) ?? 0);
      const name = schema.findField(id)?.name;
      if (name && by !== 0) (by > 0 ? more : less).push(`${name} of ${Math.abs(by)}`);
    }
    if (more.length + less.length === 0) continue;
    const alike = JSON.stringify([s.companyId, s.roles, more, less]);
    const known = found.get(alike);
    if (known) known.n++;
    else found.set(alike, { s, n: 1, more, less });
  }
  return [...found.values()]
    .sort((a, b) => b.more.length - a.more.length)
    .slice(0, MOST_TOLD)
    .map(({ s, n, more, less }) => ({ who: s.name, where: s.company ?? (s.personId ? "the agency" : ""), people: n, more, less }));
}

export function makePeople(file: PortalFile, owner: Owner, ask: MakingAsk, really: boolean): Result<Making, string> {
  let before: Read | null = null;
  let wereBroken = new Set<string>();
  let shifted: Shifted[] = [];
  let broken: string[] = [];
  const look: Look = {
    before() {
      before = readBy(file, owner, ask);
      wereBroken = new Set(brokenNow(lookedAt(file, owner)).map((v) => v.safeguard.id));
    },
    after() {
      shifted = shifts(before!, readBy(file, owner, ask), published(file).policy.schema);
      broken = brokenNow(lookedAt(file, owner)).flatMap((v) => (wereBroken.has(v.safeguard.id) ? [] : [v.sentence]));
      return broken.length > 0 ? `A safeguard would be broken: ${broken.join(" ")}` : null;
    },
  };
  const done = makeOf(file, owner, ask, really, look);
  return done.ok ? { ok: true, value: { ...done.value, shifted, broken } } : err(done.error);
}

export const makePeopleTask = writersTask("make people of a table", (ask: MakingAsk & { portal: string; really: boolean }, viewer) => {
  const file = portalFile(ask.portal);
  if (!file) throw new Error(`There is no portal at ${ask.portal} any more.`);
  if (viewer.kind !== "owner") throw new Error("Tables are the owner's to shape.");
  return makePeople(file, viewer as Owner, ask, ask.really);
});
