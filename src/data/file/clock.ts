/**
 * What time it is for a portal's records and money. A rehearsal has a clock of its own, ahead of the real one; sessions and limits always go
 * by the real one (settled ahead, 7).
 */
import { z } from "zod";
import type { PortalFile } from "./portal-file";

const shape = z.object({
  /** Id and address of the portal that it is a copy of. */
  of: z.string(),
  slug: z.string(),
  /** Milliseconds ahead of the real clock. */
  ahead: z.number().int(),
  madeAt: z.number().int(),
  madeBy: z.string(),
});
export type Rehearsal = Readonly<z.infer<typeof shape>>;

export const REHEARSAL = "rehearsal";

/** Null of a portal that is no rehearsal. */
export function rehearsalIn(file: PortalFile): Rehearsal | null {
  const said = file.meta.get(REHEARSAL);
  return said === undefined ? null : shape.parse(JSON.parse(said));
}

/** The moment it is in a portal, in milliseconds: a rehearsal has a clock of its own. */
export const timeIn = (file: PortalFile, real: number): number => real + (rehearsalIn(file)?.ahead ?? 0);
