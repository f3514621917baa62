/** The account at the payment provider: its secrets are written once, sealed, and only their ends are ever shown. */
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { dropProvider, keepProvider, providerRow } from "@/data/billing/buyers";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { seal, tokenHash, unseal } from "@/identity/secrets/secrets";

export interface PayAccount {
  /** Which account it is: of another, customers and ways to pay are not known. */
  readonly account: string;
  readonly mode: "test" | "live";
  readonly secret: string;
  readonly hook: string;
}

/** The account at the payment provider; null where there is none. */
export function payAccount(file: PortalFile): PayAccount | null {
  const row = providerRow(file);
  if (!row) return null;
  const open = (what: string, sealed: string): string => unseal(file.id, `payments ${what}`, sealed);
  return { account: row.account, mode: row.mode as PayAccount["mode"], secret: open("secret", row.secret), hook: open("hook", row.hook) };
}

export interface ShownAccount {
  readonly mode: "test" | "live";
  /** The last four signs of each. */
  readonly secretEnd: string;
  readonly hookEnd: string;
  readonly setBy: string;
  readonly setAt: number;
}
/** The portal's account at the payment provider without its secret; null where it has none. */
export function shownAccount(file: PortalFile, _owner: Owner): ShownAccount | null {
  const row = providerRow(file);
  return row
    ? { mode: row.mode as ShownAccount["mode"], secretEnd: row.secretEnd, hookEnd: row.hookEnd, setBy: row.setBy, setAt: row.setAt }
    : null;
}

/** Its secrets are kept sealed, and shown to nobody again. */
export function keepAccount(file: PortalFile, owner: Owner, a: { secret: string; hook: string; mode: "test" | "live" }): void {
  transact(file, () => {
    keepProvider(file, {
      account: tokenHash(a.secret).slice(0, 16),
      mode: a.mode,
      secret: seal(file.id, "payments secret", a.secret),
      secretEnd: a.secret.slice(-4),
      hook: seal(file.id, "payments hook", a.hook),
      hookEnd: a.hook.slice(-4),
      setBy: owner.person?.name ?? "",
      setAt: owner.now,
    });
    record(file, {
      actor: actorOf(owner),
      via: "page",
      at: owner.now,
      kind: "payments-set-up",
      detail: `${a.mode}, key ending in ${a.secret.slice(-4)}`,
    });
  });
}

/** Forgets the portal's account at the payment provider, and records it. */
export function forgetAccount(file: PortalFile, owner: Owner): void {
  transact(file, () => {
    dropProvider(file);
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "payments-taken-away" });
  });
}
