/** Names of hosts that an agency brought along, and which portal each leads to. One counts once it was shown to be the agency's. */
import { and, asc, eq, isNotNull, sql } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { PortalId } from "@/core/ids";
import { domains, portals } from "../file/control-tables";
import { control } from "../file/open";
import { once } from "../file/per-process";

export interface Domain {
  readonly host: string;
  /** What a record or a file must say. */
  readonly token: string;
  readonly shownAt: number | null;
  readonly shownBy: string | null;
  readonly main: boolean;
}
const own = (portal: PortalId, host: string) => and(eq(domains.portal, portal), eq(domains.host, host));

/** The domains of a portal and how far each is set up. */
export const domainsOf = (portal: PortalId, _owner: Owner): Domain[] =>
  control()
    .orm.select()
    .from(domains)
    .where(eq(domains.portal, portal))
    .orderBy(asc(domains.host))
    .all()
    .map(({ host, token, shownAt, shownBy, main }) => ({ host, token, shownAt, shownBy, main: main === 1 }));

/** How many a portal may have. */
export const MOST_DOMAINS = 20;

/** The name of the portal that a name leads to already; null where it leads to none. */
export const portalWith = (host: string): string | null =>
  control()
    .orm.select({ name: portals.name })
    .from(domains)
    .innerJoin(portals, eq(portals.id, domains.portal))
    .where(and(eq(domains.host, host), isNotNull(domains.shownAt)))
    .get()?.name ?? null;

/** False where this portal has it already; several may try for one name until one shows that it is theirs. */
export const addDomain = (portal: PortalId, _owner: Owner, host: string, token: string, now: number): boolean =>
  control().orm.insert(domains).values({ host, portal, token, addedAt: now }).onConflictDoNothing().run().changes === 1;

/** False where another portal was quicker. */
export const keepShown = (portal: PortalId, _owner: Owner, host: string, by: "record" | "file", now: number): boolean => {
  if (portalWith(host)) return false;
  return control().orm.update(domains).set({ shownAt: now, shownBy: by }).where(own(portal, host)).run().changes === 1;
};

/** Null makes the portal's own address the main one again. False where that name does not lead here. */
export function keepMain(portal: PortalId, _owner: Owner, host: string | null): boolean {
  const { db, orm } = control();
  return db.transaction(() => {
    orm.update(domains).set({ main: 0 }).where(eq(domains.portal, portal)).run();
    if (host === null) return true;
    return (
      orm
        .update(domains)
        .set({ main: 1 })
        .where(and(own(portal, host), isNotNull(domains.shownAt)))
        .run().changes === 1
    );
  })();
}

/** Takes a domain from a portal. False where it has none such. */
export const dropDomain = (portal: PortalId, _owner: Owner, host: string): boolean =>
  control().orm.delete(domains).where(own(portal, host)).run().changes === 1;

/** All names that lead to a portal, for the daily look at their records. */
export const eachShown = (): { portal: PortalId; host: string; token: string; shownBy: string }[] =>
  control()
    .orm.select()
    .from(domains)
    .where(isNotNull(domains.shownAt))
    .all()
    .map((d) => ({ portal: d.portal as PortalId, host: d.host, token: d.token, shownBy: d.shownBy ?? "record" }));

/** How many days in a row the record is missing now; 0 where it is there. */
export function missedAgain(portal: PortalId, host: string, missing: boolean): number {
  const missed = missing ? sql`${domains.missed} + 1` : 0;
  return control().orm.update(domains).set({ missed }).where(own(portal, host)).returning({ n: domains.missed }).get()?.n ?? 0;
}

/** It leads nowhere until it is shown again; where it was the main address, the portal's own is. */
export const stopDomain = (portal: PortalId, host: string): void =>
  void control().orm.update(domains).set({ shownAt: null, shownBy: null, main: 0, missed: 0 }).where(own(portal, host)).run();

/** These three are asked at every request, and what one process changes must count at once in another: one prepared look each. */
const asked = once("domain looks", () => new Map<unknown, ReturnType<typeof looks>>());
function looks() {
  const { db } = control();
  return {
    slug: db.prepare("SELECT p.slug FROM domains d JOIN portals p ON p.id = d.portal WHERE d.host = ? AND d.shown_at IS NOT NULL").pluck(),
    main: db.prepare("SELECT d.host FROM domains d JOIN portals p ON p.id = d.portal WHERE p.slug = ? AND d.main = 1").pluck(),
    mains: db.prepare("SELECT host FROM domains WHERE main = 1").pluck(),
  };
}
function look() {
  const { db } = control();
  let known = asked.get(db);
  if (!known) asked.set(db, (known = looks()));
  return known;
}

/** The slug of the portal that stands at this host. */
export const slugAt = (host: string): string | undefined => look().slug.get(host) as string | undefined;
/** The host that a portal's links name, where it is not its own below the main one. */
export const mainDomain = (slug: string): string | undefined => look().main.get(slug) as string | undefined;
/** Where see-as may lead from the office. */
export const mainDomains = (): string[] => look().mains.all() as string[];
