/** What every look at client-visible records needs, together: where, by which rules, for whom. */
import type { Policy } from "@/core/access/policy";
import type { Owner, Viewer } from "@/core/access/who/viewer";
import type { Via } from "@/core/events/event";
import type { PortalFile } from "./file/open";

export interface Access {
  readonly file: PortalFile;
  readonly policy: Policy;
  readonly viewer: Viewer;
  /** By what way they act; a page where nothing is said. */
  readonly via?: Via;
  /** Counts of this request, by what was counted; emptied by whoever writes through it. */
  readonly counted?: Map<string, number>;
}
export type OwnerAccess = Access & { readonly viewer: Owner };
