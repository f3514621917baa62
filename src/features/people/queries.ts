/** Who stands in the list of people: by words, company and where they are on their way in. */
import { formatDate } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { type DirectoryCompany, type DirectoryPerson, directory, personText, wordsMatch } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/office-gate";

export interface Search {
  readonly q?: string;
  readonly company?: string;
  readonly standing?: string;
  readonly page?: string;
  readonly companies?: string;
}

/** Where somebody is on their way in. "Invited" is only who has been. */
export const STANDINGS = ["not invited yet", "invited", "invitation over", "awaiting approval", "active", "inactive", "expired"] as const;
export type Standing = (typeof STANDINGS)[number];

export function standingOf(x: DirectoryPerson, now: number): Standing {
  if (x.status !== "invited") return x.status;
  if (x.password === "temporary") return "invited";
  if (!x.invitation || (x.invitation.usedAt === null && x.invitation.expiresAt === 0)) return "not invited yet";
  return x.invitation.usedAt === null && x.invitation.expiresAt <= now ? "invitation over" : "invited";
}

export interface PersonRow {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly belongs: string | null;
  readonly standing: Standing;
  /** "until 3 December", "last in 26 November". */
  readonly more: string;
}

export function peopleLike(p: OfficePortal, search: Search): { all: number; fitting: PersonRow[]; companies: readonly DirectoryCompany[] } {
  const { portal } = p.live.definition;
  const { people, companies } = directory(p.file, p.owner, dateIn(p.now, portal.timeZone));
  const words = search.q?.trim() ?? "";
  const day = (at: number): string => formatDate(dateIn(at, portal.timeZone), portal.locale);
  const fitting = people.flatMap((x): PersonRow[] => {
    const standing = standingOf(x, p.now);
    if (search.company && !x.memberships.some((m) => m.companyId === search.company)) return [];
    if (search.standing && standing !== search.standing) return [];
    if (words && !wordsMatch(words, `${personText(x)} ${standing}`)) return [];
    const belongs = x.memberships.length === 0 ? null : x.memberships.map((m) => `${m.company} (${m.roles.join(", ")})`).join("; ");
    const more =
      standing === "invited" && x.invitation ? `until ${day(x.invitation.expiresAt)}` : x.seenAt !== null ? `last in ${day(x.seenAt)}` : "";
    return [{ id: x.id, name: x.name, email: x.email, belongs, standing, more }];
  });
  return { all: people.length, fitting, companies };
}
