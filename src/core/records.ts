/** A record as a viewer receives it: hidden fields are absent, related records out of sight are withheld without their id. */
import type { Scalar } from "./schema/value";

export type Link = { readonly id: string; readonly label: string } | { readonly withheld: true };
export type SeenValue = Scalar | readonly string[] | Link | readonly Link[] | null;

export interface SeenRecord {
  readonly id: string;
  /** By field id. A field that is not visible on this record has no key. */
  readonly fields: Readonly<Record<string, SeenValue>>;
}

export const isLink = (v: SeenValue | undefined): v is Link => typeof v === "object" && v !== null && !Array.isArray(v);
export const isLinks = (v: SeenValue | undefined): v is readonly Link[] => Array.isArray(v) && typeof v[0] === "object";

export const linkWords = (l: Link): string => ("withheld" in l ? "withheld" : l.label || "unnamed");
