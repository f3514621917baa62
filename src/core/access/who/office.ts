/** What staff of the back office may do there, by their role. Portals' own people and roles are another matter. */

export const OFFICE_ROLES = ["owner", "builder", "support", "billing"] as const;
export type OfficeRole = (typeof OFFICE_ROLES)[number];

/**
 * overview: the portal's steps in numbers. records: what stands in its tables, and who sees it. people: who comes in, and how.
 * build: tables, access, pages, brand, doors, publishing. bill: plans and what companies have paid for. staff: who works here.
 */
export const RIGHTS = ["overview", "records", "people", "build", "bill", "staff"] as const;
export type Right = (typeof RIGHTS)[number];

const HELD: Readonly<Record<OfficeRole, readonly Right[]>> = {
  owner: RIGHTS,
  builder: ["overview", "records", "people", "build", "bill"],
  support: ["overview", "records", "people"],
  billing: ["overview", "bill"],
};

export const OFFICE_ROLE_WORDS: Readonly<Record<OfficeRole, { readonly name: string; readonly about: string }>> = {
  owner: { name: "Owner", about: "Everything, and who works here." },
  builder: { name: "Builder", about: "Tables, access, pages, brand and doors; records and people." },
  support: { name: "Support", about: "Records and people: invites, helps, looks as somebody. Builds nothing." },
  billing: { name: "Billing", about: "Plans and what companies have paid for. No records." },
};

/** Whether a word that came from outside names a role of the back office. */
export const isOfficeRole = (text: string): text is OfficeRole => (OFFICE_ROLES as readonly string[]).includes(text);
/** Nothing, where the role is none that is known. */
export const mayInOffice = (role: string, right: Right): boolean => isOfficeRole(role) && HELD[role].includes(right);
