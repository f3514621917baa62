/** Who looks. Made by `identity` alone; everything that reads or writes client data asks for one. */
import type { Value, Values } from "../../schema/types";
import type { Within } from "./within";

declare const fromIdentity: unique symbol;

export type PersonStatus = "invited" | "awaiting approval" | "active" | "inactive" | "expired";

/** What people of the agency read: whoever was added has not been in, asked or not. */
export const statusWords = (status: PersonStatus): string => (status === "invited" ? "not in yet" : status);

/** Of whoever has not been in yet, what they will find: as though they had signed in. An owner sees that before inviting anybody. */
export const asSignedIn = <P extends { readonly status: PersonStatus }>(person: P): P =>
  person.status === "invited" ? { ...person, status: "active" } : person;

export interface ViewerFacts {
  /**
   * `owner`: the agency's owner in the back office, who has everything by definition. `person`: anyone signed in, or a key of theirs. `key`: a
   * program that holds a key of a role and is nobody.
   */
  readonly kind: "owner" | "person" | "key" | "visitor";
  readonly person: { readonly id: string; readonly name: string; readonly status: PersonStatus; readonly values: Values } | null;
  /** The active membership's company; null for agency people and visitors. */
  readonly company: { readonly id: string; readonly name: string; readonly values: Values } | null;
  readonly membershipId: string | null;
  readonly roles: readonly string[];
  readonly features: ReadonlySet<string>;
  /** Ids of the records that the company, or the person, bought one by one, as long as they hold. */
  readonly bought: readonly string[];
  /** Milliseconds since the epoch, and the portal's IANA time zone: the core has no clock of its own. */
  readonly now: number;
  readonly timeZone: string;
  /** Of a program: its key, what that is kept to, and whether an assistant may use it. */
  readonly key?: { readonly id: string; readonly within: Within | null; readonly tools: boolean };
  /** `see-as` looks through a handle that cannot write. */
  readonly mode: "live" | "see-as";
}

/** Filled in by `scope`, which alone knows what stands in it. */
export interface Worked {
  policy: object | null;
  bases: object | null;
  scopes: object | null;
  many: object | null;
}

/** `worked` keeps what was worked out for this viewer; it lives and dies with the request. */
export type Viewer = ViewerFacts & { readonly [fromIdentity]: true; readonly worked: Worked };

/** The agency's owner in the back office. What only the owner may do asks for one, so it cannot be called for anybody else. */
export type Owner = Viewer & { readonly kind: "owner" };

export type Side = "owner" | "agency" | "client" | "visitor";

/** A membership in a company makes a client of anyone, whatever roles it lists: the wall stands. */
export function sideOf(viewer: Viewer): Side {
  if (viewer.kind === "owner") return "owner";
  if (viewer.kind === "visitor" || (!viewer.person && viewer.kind !== "key")) return "visitor";
  return viewer.company ? "client" : "agency";
}

export function personValue(viewer: Viewer, fieldId: string): Value {
  return viewer.person?.values[fieldId] ?? null;
}
export function companyValue(viewer: Viewer, fieldId: string): Value {
  return viewer.company?.values[fieldId] ?? null;
}
