/** A decision carries its why as data; `wording.ts` alone turns it into sentences. */
import type { Doing } from "./rules";
import type { Trace } from "./trace";
import type { PersonStatus } from "./who/viewer";

export type Reason =
  | { code: "account"; status: PersonStatus }
  | { code: "signed-out"; table: string }
  | { code: "no-company"; table: string }
  | { code: "agency-only"; table: string }
  | { code: "wall"; table: string; found: string | null }
  | { code: "feature"; grant: string; feature: string }
  | { code: "not-yet"; grant: string; date: string }
  | { code: "over"; grant: string; date: string }
  | { code: "no-grant"; action: Doing; table: string }
  | { code: "filter"; grant: string; failed: readonly Trace[] }
  | { code: "field"; field: string }
  | { code: "relation"; field: string }
  | { code: "after"; table: string }
  | { code: "books"; table: string }
  | { code: "key"; table: string }
  | { code: "unseen"; table: string };

export type Decision =
  | { readonly outcome: "allowed" /** Ids of the grants that decided; none for the owner. */; readonly grants: readonly string[] }
  | { readonly outcome: "refused"; readonly reasons: readonly Reason[] };

export const allowed = (grants: readonly string[]): Decision => ({ outcome: "allowed", grants });
export const refused = (...reasons: readonly Reason[]): Decision => ({ outcome: "refused", reasons });
