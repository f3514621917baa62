/**
 * Keys of programs: of a person, who is acted as in one of their memberships, or of a role. A key is told once; what is kept is its hash. It
 * opens at most what its person or role may do at the moment, so one whose role is gone opens nothing.
 */
import { desc, eq, sql } from "drizzle-orm";
import { PAYER } from "@/core/access/book-grants";
import type { Role } from "@/core/access/rules";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import { KEY_ACTIONS, type Within } from "@/core/access/who/within";
import { actorOf } from "@/core/events/event";
import { err, ok, type Result } from "@/core/result";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { keys } from "@/data/file/portal-tables";
import { transact } from "@/data/file/transact";
import { isBusy } from "@/data/file/when-free";
import { actingOf } from "@/data/people/acting";
import { companyFacts } from "@/data/tables/company-facts";
import { newToken, tokenHash } from "../secrets/secrets";
import { personKeyViewer, roleKeyViewer } from "../viewers/viewer";
import { comesFrom } from "./networks";

export const KEY_BEGINS = "elkhorn_";
/** A key wherever it stands in a text. */
export const KEY_IN_TEXT = /elkhorn_[A-Za-z0-9_-]{43}/;
export const MOST_KEYS = 200;
export const MOST_PER_MINUTE = 6_000;
export const LONGEST_DAYS = 1_826;
const DAY = 86_400_000;
/** Last use is told to the minute: a write at each request would cost more than the request. */
const MINUTE = 60_000;

export type KeyHolder =
  | { readonly kind: "person"; readonly person: string; readonly membership: string }
  | { readonly kind: "role"; readonly role: string; readonly company: string | null };

export interface NewKey {
  readonly name: string;
  readonly of: KeyHolder;
  readonly within: Within | null;
  /** Networks that it may come from; none is any. */
  readonly networks: readonly string[];
  readonly perMinute: number;
  /** Whether an assistant may use it, by the Model Context Protocol. */
  readonly tools: boolean;
  /** Days until it ends; null for never. */
  readonly days: number | null;
}

export interface Key extends Omit<NewKey, "days" | "networks"> {
  readonly id: string;
  readonly begins: string;
  readonly networks: readonly string[];
  readonly madeAt: number;
  readonly endsAt: number | null;
  /** When it was ended by hand. */
  readonly endedAt: number | null;
  readonly lastAt: number | null;
  readonly lastFrom: string | null;
  readonly leakedAt: number | null;
}

export interface KeyProblem {
  readonly field: "name" | "of" | "within" | "perMinute" | "days" | "";
  readonly message: string;
}

type Row = typeof keys.$inferSelect;

const keyOf = (r: Row): Key => ({
  id: r.id,
  name: r.name,
  begins: r.begins,
  of:
    r.roleId === null
      ? { kind: "person", person: r.personId!, membership: r.membershipId! }
      : { kind: "role", role: r.roleId, company: r.companyId },
  within: r.within === null ? null : (JSON.parse(r.within) as Within),
  networks: JSON.parse(r.addresses) as string[],
  perMinute: r.perMinute,
  tools: r.tools === 1,
  madeAt: r.madeAt,
  endsAt: r.endsAt,
  endedAt: r.endedAt,
  lastAt: r.lastAt,
  lastFrom: r.lastFrom,
  leakedAt: r.leakedAt,
});

/** All keys, newest first. */
export const keysOf = (file: PortalFile, _owner: Owner): Key[] =>
  file.orm.select().from(keys).orderBy(desc(keys.madeAt), desc(keys.id)).all().map(keyOf);

/** Roles that are given to people; visitors hold theirs without one, and who pays is a person. */
export const mayHoldKey = (role: Role): boolean => role.side !== "visitor" && role.id !== PAYER;

function problemOf(file: PortalFile, k: NewKey): KeyProblem | null {
  const { policy } = published(file);
  if (!k.name.trim()) return { field: "name", message: "Name what the key is for, such as “Accounting”." };
  if (!Number.isInteger(k.perMinute) || k.perMinute < 1 || k.perMinute > MOST_PER_MINUTE)
    return { field: "perMinute", message: `Between 1 and ${MOST_PER_MINUTE} requests a minute.` };
  if (k.days !== null && (!Number.isInteger(k.days) || k.days < 1 || k.days > LONGEST_DAYS))
    return { field: "days", message: `Between 1 and ${LONGEST_DAYS} days.` };
  if (k.of.kind === "person") {
    const { membership } = k.of;
    const acting = actingOf(file, k.of.person);
    if (!acting?.memberships.some((m) => m.id === membership)) return { field: "of", message: "Choose a person with a membership." };
  } else {
    const role = policy.role(k.of.role);
    if (!role || !mayHoldKey(role)) return { field: "of", message: "Choose a role of the agency or of clients." };
    if (role.side === "agency" && k.of.company !== null)
      return { field: "of", message: `${role.name} is a role of the agency, in no company.` };
    if (role.side === "client" && (k.of.company === null || !companyFacts(file, k.of.company)))
      return { field: "of", message: `${role.name} is a role of clients: choose the company that the key is for.` };
    if (role.companyId && role.companyId !== k.of.company) return { field: "of", message: `${role.name} is a role of another company.` };
  }
  if (k.within === null) return null;
  const open = Object.entries(k.within).filter(([, actions]) => actions.length > 0);
  if (open.length === 0) return { field: "within", message: "Choose at least one table, or all that the role opens." };
  const known = open.every(([t, actions]) => policy.schema.findTable(t) && actions.every((a) => KEY_ACTIONS.includes(a)));
  return known ? null : { field: "within", message: "A table is gone by now. Load the page again." };
}

/** The key itself is in the answer and nowhere else. */
export function makeKey(file: PortalFile, owner: Owner, k: NewKey): Result<{ id: string; token: string }, KeyProblem> {
  const problem = problemOf(file, k);
  if (problem) return err(problem);
  const token = `${KEY_BEGINS}${newToken()}`;
  const id = newId();
  return transact(file, () => {
    if (file.orm.select({ n: sql<number>`count(*)` }).from(keys).get()!.n >= MOST_KEYS)
      return err({ field: "", message: `A portal has up to ${MOST_KEYS} keys. Remove one that has ended.` });
    const within = k.within && Object.fromEntries(Object.entries(k.within).filter(([, a]) => a.length > 0));
    file.orm
      .insert(keys)
      .values({
        id,
        name: k.name.trim(),
        hash: tokenHash(token),
        begins: token.slice(0, KEY_BEGINS.length + 4),
        ...(k.of.kind === "person"
          ? { personId: k.of.person, membershipId: k.of.membership }
          : { roleId: k.of.role, companyId: k.of.company }),
        within: within && JSON.stringify(within),
        addresses: JSON.stringify(k.networks),
        perMinute: k.perMinute,
        tools: k.tools ? 1 : 0,
        madeAt: owner.now,
        madeBy: owner.person?.id ?? "",
        endsAt: k.days === null ? null : owner.now + k.days * DAY,
      })
      .run();
    const shared = { actor: actorOf(owner), via: "page", at: owner.now, detail: k.name.trim() } as const;
    if (k.of.kind === "person") record(file, { ...shared, kind: "key-made-for", table: "t_people", record: k.of.person });
    else record(file, { ...shared, kind: "key-made", company: k.of.company });
    return ok({ id, token });
  });
}

/** Opens nothing from the next request on, or does again. False where there is nothing to change. */
export function setEnded(file: PortalFile, owner: Owner, id: string, ended: boolean): boolean {
  return transact(file, () => {
    const row = file.orm.select().from(keys).where(eq(keys.id, id)).get();
    if (!row || (row.endedAt !== null) === ended) return false;
    file.orm
      .update(keys)
      .set({ endedAt: ended ? owner.now : null })
      .where(eq(keys.id, id))
      .run();
    const kind = ended ? "key-ended" : "key-brought-back";
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind, company: row.companyId, detail: row.name });
    return true;
  });
}

/** For good, of one that has ended. */
export function dropKey(file: PortalFile, owner: Owner, id: string): boolean {
  return transact(file, () => {
    const row = file.orm.select().from(keys).where(eq(keys.id, id)).get();
    if (!row || !hasEnded(row, owner.now)) return false;
    file.orm.delete(keys).where(eq(keys.id, id)).run();
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "key-removed", detail: row.name });
    return true;
  });
}

/** By hand, or by its day. */
export const hasEnded = (k: { readonly endedAt: number | null; readonly endsAt: number | null }, now: number): boolean =>
  k.endedAt !== null || (k.endsAt !== null && k.endsAt <= now);

/** Whether the person or role that it is of is gone, or cannot sign in. `now` is the portal's. */
export const opensNothing = (file: PortalFile, key: Key, now: number): boolean => viewerOfKey(file, key, now) === undefined;

function viewerOfKey(file: PortalFile, { id, within, tools, of }: Key, now: number): Viewer | undefined {
  const facts = { id, within, tools };
  return of.kind === "person"
    ? personKeyViewer(file, facts, of.person, of.membership, now)
    : roleKeyViewer(file, facts, of.role, of.company, now);
}

export type Opened =
  | { readonly state: "open"; readonly key: Key; readonly viewer: Viewer }
  | { readonly state: "unknown" | "ended" | "elsewhere" | "nobody" };

/**
 * Who asks with this key from there, at this moment. nobody: the person or role that it is of is gone, or cannot sign in. `real` is the clock
 * of this machine, which its end goes by; `now` that of the portal.
 */
export function openKey(file: PortalFile, token: string, from: string, now: number, real: number): Opened {
  const row =
    token.length === KEY_BEGINS.length + 43
      ? file.orm
          .select()
          .from(keys)
          .where(eq(keys.hash, tokenHash(token)))
          .get()
      : undefined;
  if (!row) return { state: "unknown" };
  const key = keyOf(row);
  if (hasEnded(key, real)) return { state: "ended" };
  if (!comesFrom(key.networks, from)) return { state: "elsewhere" };
  const viewer = viewerOfKey(file, key, now);
  if (!viewer) return { state: "nobody" };
  if (key.lastAt === null || real - key.lastAt >= MINUTE || key.lastFrom !== from) noteUse(file, key.id, from, real);
  return { state: "open", key, viewer };
}

/** Notes a key's use; left out while an import writes, so that the request does not wait. */
function noteUse(file: PortalFile, id: string, from: string, at: number): void {
  try {
    file.orm.update(keys).set({ lastAt: at, lastFrom: from }).where(eq(keys.id, id)).run();
  } catch (e) {
    if (!isBusy(e)) throw e;
  }
}

/** It stood in an address, where servers on the way write it down: the owner is told to replace it. */
export function noteLeak(file: PortalFile, token: string, now: number): void {
  file.orm
    .update(keys)
    .set({ leakedAt: now })
    .where(eq(keys.hash, tokenHash(token)))
    .run();
}
