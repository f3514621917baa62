/** The owner's view of everybody: people with their memberships, companies with their standing. */
import { asc, eq } from "drizzle-orm";
import type { Owner, PersonStatus } from "@/core/access/who/viewer";
import { fold } from "@/core/text/fold";
import { type Standing, standings } from "../billing/standing";
import { published } from "../definition/published";
import type { PortalFile } from "../file/open";
import * as t from "../file/portal-tables";
import { companyNames } from "../tables/company-names";

export interface DirectoryPerson {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly status: PersonStatus;
  readonly password: "none" | "temporary" | "own";
  /** The last link that they were invited by: milliseconds since the epoch. */
  readonly invitation: { readonly usedAt: number | null; readonly expiresAt: number; readonly openedAt: number | null } | null;
  /** When they were last in; null of those who never were, or whose sessions are over. */
  readonly seenAt: number | null;
  /** How they came in when they were last seen to, by the session's door; null of those who never were, or whose sessions are over. */
  readonly via: string | null;
  /** ISO 8601; null of who was here before that was kept. */
  readonly madeAt: string | null;
  /** How the message of their last invitation goes: ready, waiting, sent, failed; null where there is none. */
  readonly message: string | null;
  readonly memberships: { id: string; companyId: string | null; company: string; roles: string[] }[];
}

export interface DirectoryCompany {
  readonly id: string;
  /** Unlike every other: see `company-names.ts`. */
  readonly name: string;
  readonly slug: string;
  readonly people: number;
  readonly standing: Standing;
}

type Held = (typeof t.memberships.$inferSelect)[];

function directoryPeople(file: PortalFile, names: ReadonlyMap<string, string>): { people: DirectoryPerson[]; sizes: Map<string, number> } {
  const { definition } = published(file);
  const roles = new Map(definition.roles.map((r) => [r.id, r.name]));
  const byPerson = new Map<string, Held>();
  const sizes = new Map<string, number>();
  for (const m of file.orm.select().from(t.memberships).orderBy(asc(t.memberships.createdAt)).all()) {
    byPerson.set(m.personId, [...(byPerson.get(m.personId) ?? []), m]);
    if (m.companyId) sizes.set(m.companyId, (sizes.get(m.companyId) ?? 0) + 1);
  }
  const passwords = new Map(
    file.orm
      .select({ id: t.credentials.personId, temporary: t.credentials.temporary })
      .from(t.credentials)
      .all()
      .map((c) => [c.id, c.temporary ? "temporary" : "own"] as const),
  );
  const invitations = new Map(
    file.orm
      .select()
      .from(t.links)
      .where(eq(t.links.purpose, "invitation"))
      .all()
      .map((l) => [l.personId, { usedAt: l.usedAt, expiresAt: l.expiresAt, openedAt: l.openedAt }] as const),
  );
  // Of an aggregate that picks one row SQLite takes the other columns from that row ("bare columns", lang_select).
  const seen = new Map(
    (
      file.db.prepare("SELECT person_id, max(seen_at), via FROM sys_sessions GROUP BY person_id").raw().all() as [string, number, string][]
    ).map(([id, at, via]) => [id, { at, via }]),
  );
  const written = new Map(
    (
      file.db
        .prepare("SELECT person_id, max(made_at), state FROM sys_messages WHERE occasion = 'invited' GROUP BY person_id")
        .raw()
        .all() as [string, number, string][]
    ).map(([id, , state]) => [id, state]),
  );
  const rows = file.db
    .prepare("SELECT id, f_person_name, coalesce(f_person_email, ''), f_person_status, created_at FROM t_people ORDER BY f_person_name_k")
    .raw()
    .all() as [string, string, string, PersonStatus, string | null][];
  const people = rows.map(
    ([id, name, email, status, madeAt]): DirectoryPerson => ({
      id,
      name,
      email,
      status,
      password: passwords.get(id) ?? "none",
      invitation: invitations.get(id) ?? null,
      seenAt: seen.get(id)?.at ?? null,
      via: seen.get(id)?.via ?? null,
      madeAt,
      message: written.get(id) ?? null,
      memberships: (byPerson.get(id) ?? []).map((m) => ({
        id: m.id,
        companyId: m.companyId,
        company: m.companyId ? (names.get(m.companyId) ?? "a removed company") : definition.portal.name,
        roles: m.roles.map((r) => roles.get(r) ?? r),
      })),
    }),
  );
  return { people, sizes };
}

/** Everybody and every company with what the office lists of them. `today` is YYYY-MM-DD. */
export function directory(file: PortalFile, _owner: Owner, today: string): { people: DirectoryPerson[]; companies: DirectoryCompany[] } {
  const { definition } = published(file);
  const names = companyNames(file);
  const { people, sizes } = directoryPeople(file, names);
  const paid = standings(file, definition, today);
  const slugs = new Map(file.db.prepare("SELECT id, f_company_slug FROM t_companies").raw().all() as [string, string][]);
  const companies = [...names].map(
    ([id, name]): DirectoryCompany => ({
      id,
      name,
      slug: slugs.get(id) ?? "",
      people: sizes.get(id) ?? 0,
      standing: paid.of(id),
    }),
  );
  return { people, companies };
}

/** How many people have this status. */
export const peopleWith = (file: PortalFile, _owner: Owner, status: PersonStatus): number =>
  file.db.prepare("SELECT count(*) FROM t_people WHERE f_person_status = ?").pluck().get(status) as number;

/** All companies with their names. */
export const companyList = (file: PortalFile, _owner: Owner): { id: string; name: string }[] =>
  [...companyNames(file)].map(([id, name]) => ({ id, name }));

/** A person in one of their memberships, to be chosen from a list. */
export interface PersonChoice {
  readonly personId: string;
  readonly membershipId: string | null;
  readonly name: string;
  readonly company: string;
  readonly roles: string;
  readonly status: string;
}

/** Every word must stand somewhere in the name, e-mail, company, roles or status. */
export const wordsMatch = (words: string, text: string): boolean => {
  const folded = fold(text);
  return fold(words.trim())
    .split(/\s+/)
    .every((w) => folded.includes(w));
};

/** All that a person is found by, in one text. */
export const personText = (p: DirectoryPerson): string =>
  `${p.name} ${p.email} ${p.status} ${p.memberships.map((m) => `${m.company} ${m.roles.join(" ")}`).join(" ")}`;

const MOST_NAMED = 40;

/** People by words of their name, e-mail, company or role, once for each membership: the first forty, and whether there are more. */
export function peopleNamed(file: PortalFile, _owner: Owner, words: string): { people: PersonChoice[]; more: boolean } {
  const found: PersonChoice[] = [];
  for (const p of directoryPeople(file, companyNames(file)).people) {
    if (found.length > MOST_NAMED) break;
    if (!wordsMatch(words, personText(p))) continue;
    const held = p.memberships.length > 0 ? p.memberships : [{ id: null, company: "no company", roles: [] as string[] }];
    for (const m of held)
      found.push({ personId: p.id, membershipId: m.id, name: p.name, company: m.company, roles: m.roles.join(", "), status: p.status });
  }
  return { people: found.slice(0, MOST_NAMED), more: found.length > MOST_NAMED };
}
