/** A checkout brought to the provider: by its page, or by the way to pay that is kept. Every call has the checkout's own key. */
import { err, ok, type Result } from "@/core/result";
import { customerOf, keepCustomer } from "@/data/billing/buyers";
import { type Checkout, noteOpen, stillFits } from "@/data/billing/checkouts";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { reached } from "@/data/file/points";
import { portalAddress } from "@/identity/addresses";
import type { Till } from "./here";
import { settlePaid } from "./settling";

interface How {
  readonly now: number;
  /** With something else than what is kept. */
  readonly other: boolean;
  /** Of a guest: what their page of waiting is known by. */
  readonly key: string | null;
}

/** Where the person goes: the provider's page, or the page of the portal that waits for the word. The error is a sentence. */
export async function begin(file: PortalFile, { payments, account }: Till, c: Checkout, how: How): Promise<Result<string, string>> {
  const waiting = `/-/paying/${c.id}${how.key ? `?key=${how.key}` : ""}`;
  if (c.state === "done") return ok(waiting);
  if (c.url !== null) return ok(c.url);
  if (!stillFits(file, c, how.now)) return err("Your plan has changed since. Open the plans again.");
  const { reckoned, keep, what } = c.bought;
  const known = c.company ? customerOf(file, c.company, account.account) : null;
  const currency = published(file).definition.portal.currency;
  const needsMethod = c.bought.wanted.kind === "method" || (keep && !known?.method);
  const nothing = { reference: c.id, payment: null, amount: 0, currency, method: null, why: null } as const;
  if (reckoned.due === 0 && !needsMethod) {
    settlePaid(file, c.id, { ...nothing, state: "paid" }, how.now);
    return ok(waiting);
  }
  if (c.company && known?.method && !how.other && c.bought.wanted.kind !== "method") {
    const charged = await payments.charge(
      { customer: known.customer, method: known.method, amount: reckoned.due, currency, what, reference: c.id },
      `${c.id}-kept`,
    );
    reached("checkout: charged");
    if (charged.ok && charged.value.state === "paid") {
      settlePaid(file, c.id, charged.value, how.now);
      return ok(waiting);
    }
    if (!charged.ok && charged.error.when === "later") return err(charged.error.message);
  }
  const customer = c.company ? await ensureCustomer(file, payments, account.account, c, known?.customer ?? null, how.now) : ok(null);
  if (!customer.ok) return customer;
  const opened = await payments.checkout(
    {
      customer: customer.value,
      email: c.email,
      amount: reckoned.due,
      currency,
      what,
      reference: c.id,
      keep: c.company !== null,
      back: `${portalAddress(file.slug)}${waiting}`,
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
