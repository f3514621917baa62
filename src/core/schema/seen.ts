/** A record as a viewer receives it: hidden fields are absent, related records out of sight are withheld without their id. */
import type { Scalar } from "./value";

export type Link = { readonly id: string; readonly label: string } | { readonly withheld: true };
/** A file of a record, as far as its field may be seen. */
export interface FileRef {
  readonly file: true;
  readonly id: string;
  readonly name: string;
  /** Media type, told by the content. */
  readonly type: string;
  readonly bytes: number;
  readonly picture: { readonly width: number; readonly height: number } | null;
  /** Its address below the portal's; null where only its name may be known. */
  readonly at: string | null;
}
export type SeenValue = Scalar | readonly string[] | Link | readonly Link[] | readonly FileRef[] | null;

export interface SeenRecord {
  readonly id: string;
  /** By field id. A field that is not visible on this record has no key. */
  readonly fields: Readonly<Record<string, SeenValue>>;
}

/** Whether a value, as a viewer sees it, is a link to one record. */
export const isLink = (v: SeenValue | undefined): v is Link => typeof v === "object" && v !== null && !Array.isArray(v);
/** Whether a value, as a viewer sees it, is links to records. */
export const isLinks = (v: SeenValue | undefined): v is readonly Link[] =>
  Array.isArray(v) && typeof v[0] === "object" && !("file" in v[0]);
/** Whether a value, as a viewer sees it, is files. */
export const isFiles = (v: SeenValue | undefined): v is readonly FileRef[] =>
  Array.isArray(v) && typeof v[0] === "object" && "file" in v[0];

/** What a link is called, where its record may not be named, too. */
export const linkWords = (l: Link): string => ("withheld" in l ? "withheld" : l.label || "unnamed");
