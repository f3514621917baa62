/** Links that confirm joining: there is no person yet whose they could be. */
import { and, eq, gt } from "drizzle-orm";
import type { PortalFile } from "@/data/file/open";
import { joins } from "@/data/file/portal-tables";
import { mac, macMatches } from "./secrets";

/** What stands in the link of somebody who is joining. */
export const joinToken = (file: PortalFile, id: string): string => `${id}.${mac(file.id, "join", id)}`;

/** Who is joining by such a link; undefined where it is not ours. Whether it still works is asked apart. */
export function joinOf(file: PortalFile, token: string) {
  const [id, signature] = token.split(".");
  return id && signature && macMatches(file.id, "join", id, signature)
    ? file.orm.select().from(joins).where(eq(joins.id, id)).get()
    : undefined;
}
/** Whether a request to join still waits for its link to be opened. */
export const joinIsOpen = (file: PortalFile, id: string, now: number): boolean =>
  file.orm
    .select({ id: joins.id })
    .from(joins)
    .where(and(eq(joins.id, id), eq(joins.state, "asked"), gt(joins.expiresAt, now)))
    .get() !== undefined;
