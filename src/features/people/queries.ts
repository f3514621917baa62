/** Who stands in the list of people: by words, company and where they are on their way in. */
import { formatDate } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { type DirectoryCompany, type DirectoryPerson, directory, personText, wordsMatch } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/requests/office-gate";

export interface Search {
  readonly q?: string;
  readonly company?: string;
  readonly standing?: string;
  readonly page?: string;
  /** "company": people of one company together. */
  readonly group?: string;
  readonly companies?: string;
  /** Some of them, by id with commas between. */
  readonly ids?: string;
}

/** How far somebody is on their way in. "Invited" is only whoever was sent an invitation. */
export const STANDINGS = ["not invited yet", "invited", "invitation over", "awaiting approval", "active", "inactive", "expired"] as const;
export type Standing = (typeof STANDINGS)[number];

export function standingOf(x: DirectoryPerson, now: number): Standing {
  if (x.status !== "invited") return x.status;
  if (x.password === "temporary") return "invited";
  if (!x.invitation || (x.invitation.usedAt === null && x.invitation.expiresAt === 0)) return "not invited yet";
  return x.invitation.usedAt === null && x.invitation.expiresAt <= now ? "invitation over" : "invited";
}

const MESSAGE: Readonly<Record<string, string>> = { ready: "not sent yet", waiting: "being sent", failed: "could not be sent" };

/** Doors, as somebody comes in by them. */
export const WAYS: Readonly<Record<string, string>> = {
  password: "password",
  link: "link",
  "mail-code": "code by mail",
  "sms-code": "code by SMS",
  passkey: "passkey",
  outside: "organisation",
  standing: "standing link",
};

export interface PersonRow {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly belongs: string | null;
  /** What they are there, where the company is said already. */
  readonly roles: string | null;
  /** What they are grouped under. */
  readonly group: string;
  /** How they come in, and since when they are here. */
  readonly way: string;
  readonly since: string;
  readonly standing: Standing;
  /** "until 3 December", "last in 26 November". */
  readonly more: string;
}

export function peopleLike(p: OfficePortal, search: Search): { all: number; fitting: PersonRow[]; companies: readonly DirectoryCompany[] } {
  const { portal } = p.live.definition;
  const { people, companies } = directory(p.file, p.owner, dateIn(p.now, portal.timeZone));
  const words = search.q?.trim() ?? "";
  const day = (at: number): string => formatDate(dateIn(at, portal.timeZone), portal.locale);
  const some = search.ids ? new Set(search.ids.split(",")) : null;
  const fitting = people.flatMap((x): PersonRow[] => {
    if (some && !some.has(x.id)) return [];
    const standing = standingOf(x, p.now);
    if (search.company && !x.memberships.some((m) => m.companyId === search.company)) return [];
    if (search.standing && standing !== search.standing) return [];
    if (words && !wordsMatch(words, `${personText(x)} ${standing}`)) return [];
    const belongs = x.memberships.length === 0 ? null : x.memberships.map((m) => `${m.company} (${m.roles.join(", ")})`).join("; ");
    const roles = x.memberships.length > 1 ? belongs : x.memberships.length === 1 ? x.memberships[0]!.roles.join(", ") : null;
    const more =
      standing === "invited" && x.invitation
        ? [MESSAGE[x.message ?? ""], x.invitation.openedAt === null ? "" : "looked at", `until ${day(x.invitation.expiresAt)}`]
            .filter(Boolean)
            .join(", ")
        : x.seenAt !== null
          ? `last in ${day(x.seenAt)}`
          : "";
    const way = x.via ? (WAYS[x.via] ?? x.via) : x.password === "none" ? "" : WAYS.password!;
    const since = x.madeAt ? day(Date.parse(x.madeAt)) : "";
    const group = x.memberships[0]?.company ?? "No company";
    return [{ id: x.id, name: x.name, email: x.email, belongs, roles, group, way, since, standing, more }];
  });
  if (search.group === "company") {
    const order = new Intl.Collator(portal.locale);
    fitting.sort((a, b) => order.compare(a.group, b.group) || order.compare(a.name, b.name));
  }
  return { all: people.length, fitting, companies };
}
