/** Mail that nobody asked for is kept back from addresses that refused some for good, and from whoever wants none. */
import { and, eq } from "drizzle-orm";
import { fold } from "@/core/text/fold";
import type { PortalFile } from "../file/open";
import { stops } from "../file/portal-tables";

export type Stop = { readonly kind: "bounce" | "stop"; readonly reason: string; readonly at: number };

const keyOf = (email: string): string => fold(email.trim());

/** Why an address gets no mail that nobody asked for; undefined where it gets all. */
export const stopOf = (file: PortalFile, email: string): Stop | undefined =>
  file.orm
    .select()
    .from(stops)
    .where(eq(stops.emailKey, keyOf(email)))
    .get() as Stop | undefined;

/** A wish to be left alone outlasts a bounce. */
export function noteStop(file: PortalFile, email: string, stop: Stop): void {
  const there = stopOf(file, email);
  if (there?.kind === "stop" && stop.kind === "bounce") return;
  const row = { emailKey: keyOf(email), ...stop, reason: stop.reason.slice(0, 300) };
  file.orm.insert(stops).values(row).onConflictDoUpdate({ target: stops.emailKey, set: row }).run();
}

/** Lifts a stop of that kind; false where there was none. */
export const endStop = (file: PortalFile, email: string, kind: Stop["kind"]): boolean =>
  file.orm
    .delete(stops)
    .where(and(eq(stops.emailKey, keyOf(email)), eq(stops.kind, kind)))
    .run().changes === 1;

/** Why no mail goes to an address, as a sentence. */
export const stopWords = (s: Stop): string =>
  s.kind === "stop" ? "They want no such mail from this portal." : `Mail to this address was refused: ${s.reason}`;
