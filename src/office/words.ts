/** Counts in words, in the portal's locale. */
import type { OfficePortal } from "@/identity/requests/office-gate";

/** "1,239" or "1.239", as the portal's people write it. */
export const count = (p: OfficePortal, n: number): string => n.toLocaleString(p.live.definition.portal.locale);

/** "1 table", "1,239 records". */
export const plural = (p: OfficePortal, n: number, one: string, many: string): string => `${count(p, n)} ${n === 1 ? one : many}`;
