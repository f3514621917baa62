/** Whose passkeys work under a portal's other name alone (WebAuthn level 3, section 5.1.2: the relying party is a host). */
import { and, eq, ne, sql } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { PortalFile } from "@/data/file/open";
import { factors } from "@/data/file/portal-tables";
import { personFacts } from "@/data/people/people";

/** Names, of as many as are asked for, and how many there are in all. */
export function passkeysElsewhere(file: PortalFile, _owner: Owner, host: string, most: number): { names: string[]; all: number } {
  const stops = and(eq(factors.kind, "passkey"), ne(factors.host, host));
  const all =
    file.orm
      .select({ n: sql<number>`count(DISTINCT ${factors.personId})` })
      .from(factors)
      .where(stops)
      .get()?.n ?? 0;
  const ids = file.orm.selectDistinct({ id: factors.personId }).from(factors).where(stops).limit(most).all();
  return { names: ids.map(({ id }) => personFacts(file, id)?.name ?? "somebody"), all };
}
