/** What has begun and is to come back once: challenges, and sign-ins that are under way elsewhere. Only a hash of what names it is kept. */
import { and, count, eq, gt, lt } from "drizzle-orm";
import { flows } from "@/data/file/portal-tables";
import { tokenHash } from "./secrets";
import type { Shelf } from "./shelf";

export type FlowKind = "passkey" | "new passkey" | "oidc" | "saml" | "saml done" | "new email" | "frame";
const LASTS = 10 * 60_000;
/** Beyond, strangers begin no more until some are over. */
const MOST = 5_000;

/** False where too many are under way. */
export function beginFlow(shelf: Shelf, kind: FlowKind, name: string, body: unknown, now: number): boolean {
  return shelf.orm.transaction((tx) => {
    tx.delete(flows).where(lt(flows.expiresAt, now)).run();
    if ((tx.select({ n: count() }).from(flows).get()?.n ?? 0) >= MOST) return false;
    tx.insert(flows)
      .values({ hash: tokenHash(`${kind} ${name}`), kind, body: JSON.stringify(body), expiresAt: now + LASTS })
      .run();
    return true;
  });
}

/** Once: it is gone by being taken. */
export function takeFlow<T>(shelf: Shelf, kind: FlowKind, name: string, now: number): T | undefined {
  const row = shelf.orm
    .delete(flows)
    .where(and(eq(flows.hash, tokenHash(`${kind} ${name}`)), eq(flows.kind, kind), gt(flows.expiresAt, now)))
    .returning({ body: flows.body })
    .get();
  return row && (JSON.parse(row.body) as T);
}

/** While it is under way; looking takes nothing. */
export function flowBody<T>(shelf: Shelf, kind: FlowKind, name: string, now: number): T | undefined {
  const row = shelf.orm
    .select({ body: flows.body })
    .from(flows)
    .where(and(eq(flows.hash, tokenHash(`${kind} ${name}`)), eq(flows.kind, kind), gt(flows.expiresAt, now)))
    .get();
  return row && (JSON.parse(row.body) as T);
}

/** What is known of it by now; how long it lasts stays. */
export function changeFlow(shelf: Shelf, kind: FlowKind, name: string, body: unknown): void {
  shelf.orm
    .update(flows)
    .set({ body: JSON.stringify(body) })
    .where(eq(flows.hash, tokenHash(`${kind} ${name}`)))
    .run();
}
