/** A checkout brought to the provider: by its page, or by the way to pay that is kept. Every call has the checkout's own key. */
import { err, ok, type Result } from "@/core/result";
import { customerOf, keepCustomer } from "@/data/billing/buyers";
import { type Checkout, noteOpen } from "@/data/billing/checkouts";
import { charging, claimCharge, endClaim, noteClosed, othersOpen } from "@/data/billing/in-flight";
import { stillFits } from "@/data/billing/settle";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { reached } from "@/data/file/points";
import { portalAddress } from "@/identity/requests/addresses";
import type { Paying, Till } from "./here";
import { settlePaid } from "./settling";

interface How {
  readonly now: number;
  /** With something else than what is kept. */
  readonly other: boolean;
  /** Whether they may pay for their company: what it keeps is charged by nobody else. */
  readonly payer: boolean;
  /** For a guest: the secret in the address of the page where they wait. */
  readonly key: string | null;
}

const CHANGED = "Your plan has changed since. Open the plans again.";
const BUSY = "Another payment for this is under way. Wait for it, then look again.";

const waitingAt = (c: Checkout, key: string | null = null): string => `/-/paying/${c.id}${key ? `?key=${key}` : ""}`;

/** What somebody buys for themselves is theirs: neither charged to what their company keeps, nor kept for it. */
export const isOwn = ({ wanted }: Pick<Checkout["bought"], "wanted">): boolean => wanted.kind === "offer" && wanted.own;

/** Where the person goes: the provider's page, or the page of the portal that waits for the word. The error is a sentence. */
export async function begin(file: PortalFile, till: Till, c: Checkout, how: How): Promise<Result<string, string>> {
  const { payments, account } = till;
  const waiting = waitingAt(c, how.key);
  if (c.state === "done" || c.state === "charging") return ok(waiting);
  if (c.state === "failed") return err(BUSY);
  if (c.url !== null) return ok(c.url);
  if (!stillFits(file, c, how.now)) return err(CHANGED);
  const { reckoned, keep, wanted } = c.bought;
  const company = isOwn(c.bought) ? null : c.company;
  const known = company ? customerOf(file, company, account.account) : null;
  const needsMethod = wanted.kind === "method" || (keep && !known?.method);
  if (reckoned.due === 0 && !needsMethod) {
    const { currency } = published(file).definition.portal;
    const nothing = { reference: c.id, payment: null, amount: 0, currency, method: null, why: null } as const;
    settlePaid(file, c.id, { ...nothing, state: "paid" }, how.now);
    return ok(waiting);
  }
  if (known?.method && how.payer && !how.other && wanted.kind !== "method") {
    const charged = await chargeKept(file, payments, c, { customer: known.customer, method: known.method }, how.now);
    if (charged === "busy" || charged === "unfit") return err(charged === "busy" ? BUSY : CHANGED);
    if (charged !== "refused") return ok(waiting);
  }
  return openPage(file, till, c, how, known?.customer ?? null);
}

/** "waits": the provider has not said how it ended; the run of what falls due asks again by the same key. */
async function chargeKept(
  file: PortalFile,
  payments: Till["payments"],
  c: Checkout,
  kept: { readonly customer: string; readonly method: string },
  now: number,
): Promise<"paid" | "waits" | "refused" | "busy" | "unfit"> {
  const claim = claimCharge(file, c.id, now);
  if (claim === "done") return "paid";
  if (claim !== "mine") return claim;
  reached("checkout: claimed");
  const { currency } = published(file).definition.portal;
  const asked = { ...kept, amount: c.bought.reckoned.due, currency, what: c.bought.what, reference: c.id };
  const charged = await payments.charge(asked, `${c.id}-kept`);
  reached("checkout: charged");
  if (charged.ok && charged.value.state === "paid") {
    settlePaid(file, c.id, charged.value, now);
    return "paid";
  }
  if (charged.ok ? charged.value.state === "waiting" : charged.error.when === "later") return "waits";
  endClaim(file, c.id);
  return "refused";
}

/** Charges of which no end is known are asked for again, each by its own key: whatever was done for it is answered, not done twice. */
export async function chargeAgain(file: PortalFile, { payments, account }: Paying, now: number): Promise<void> {
  for (const c of charging(file, 50)) {
    const known = c.company && c.account === account ? customerOf(file, c.company, account) : null;
    if (known?.method) await chargeKept(file, payments, c, { customer: known.customer, method: known.method }, now);
  }
}

/** The provider's page. Others that are open for the same are closed first: of two, one at the most is paid. */
async function openPage(file: PortalFile, till: Till, c: Checkout, how: How, customer: string | null): Promise<Result<string, string>> {
  const { payments, account } = till;
  for (const other of othersOpen(file, c)) {
    if (other.outside === null || other.account !== account.account) continue;
    const closed = await payments.close(other.outside, `${other.id}-close`);
    if (!closed.ok) return err(closed.error.message);
    if (closed.value.state === "closed") noteClosed(file, other.id, how.now);
    else settlePaid(file, other.id, closed.value, how.now);
    if (closed.value.state === "waiting") return err(BUSY);
  }
  if (!stillFits(file, c, how.now)) return err(CHANGED);
  const own = isOwn(c.bought);
  const buyer = c.company && !own ? await ensureCustomer(file, payments, account.account, c, customer, how.now) : ok(null);
  if (!buyer.ok) return buyer;
  const opened = await payments.checkout(
    {
      customer: buyer.value,
      email: c.email,
      amount: c.bought.reckoned.due,
      currency: published(file).definition.portal.currency,
      what: c.bought.what,
      reference: c.id,
      keep: c.company !== null && !own,
      back: `${portalAddress(file.slug)}${waitingAt(c, how.key)}`,
    },
    c.id,
  );
  reached("checkout: opened");
  if (!opened.ok) return err(opened.error.message);
  noteOpen(file, c.id, { outside: opened.value.id, url: opened.value.url });
  return ok(opened.value.url);
}

async function ensureCustomer(
  file: PortalFile,
  payments: Till["payments"],
  account: string,
  c: Checkout,
  known: string | null,
  now: number,
): Promise<Result<string, string>> {
  if (known) return ok(known);
  const made = await payments.customer(
    { name: c.bought.buyer.name, email: c.bought.buyer.email, reference: c.company! },
    `customer-${c.company}-${c.id}`,
  );
  if (!made.ok) return err(made.error.message);
  keepCustomer(file, c.company!, account, made.value.id, now);
  return ok(made.value.id);
}
