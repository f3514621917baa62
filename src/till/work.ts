/** What the Till does: checkouts that people pay on its pages, charges of what it keeps, refunds; each with an event for the account. */
import { type Behaviour, WHY } from "./cards";
import { type AccountRow, type Faults, idOf, type Till } from "./store";

export interface CheckoutBody {
  readonly customer: string | null;
  readonly email: string;
  readonly amount: number;
  readonly currency: string;
  readonly what: string;
  readonly reference: string;
  readonly keep: boolean;
  readonly back: string;
}
interface CheckoutRow {
  readonly id: string;
  readonly account: string;
  readonly body: string;
  readonly state: "open" | "second" | "waiting" | "paid" | "refused" | "closed";
  readonly payment: string | null;
  readonly method: string | null;
  readonly why: string | null;
  readonly ready_at: number | null;
}
export interface Outcome {
  readonly state: "open" | "waiting" | "paid" | "refused" | "closed";
  readonly reference: string;
  readonly payment: string | null;
  readonly amount: number;
  readonly currency: string;
  readonly method: { readonly id: string; readonly words: string } | null;
  readonly why: string | null;
}

export const CLOSED = "This payment was withdrawn: another one for the same was begun.";
const SLOW_MS = 10_000;

export const checkoutRow = (db: Till, id: string): CheckoutRow | undefined =>
  db.prepare("SELECT * FROM checkouts WHERE id = ?").get(id) as CheckoutRow | undefined;
export const bodyOf = (c: CheckoutRow): CheckoutBody => JSON.parse(c.body) as CheckoutBody;

export function makeCheckout(db: Till, account: AccountRow, body: CheckoutBody, now: number): string {
  const id = idOf("pay");
  db.prepare("INSERT INTO checkouts (id, account, body, state, made_at) VALUES (?, ?, ?, 'open', ?)").run(
    id,
    account.id,
    JSON.stringify(body),
    now,
  );
  return id;
}

function methodOf(db: Till, id: string | null): Outcome["method"] {
  const last = id && (db.prepare("SELECT last FROM methods WHERE id = ?").pluck().get(id) as string | undefined);
  return id && last ? { id, words: `card ending in ${last}` } : null;
}

export function outcomeOf(db: Till, c: CheckoutRow): Outcome {
  const { reference, amount, currency } = bodyOf(c);
  const state = c.state === "second" ? "open" : c.state;
  return { state, reference, amount, currency, payment: c.payment, method: methodOf(db, c.method), why: c.why };
}

/** Withdraws a checkout, unless somebody has paid it or is about to. */
export const closeCheckout = (db: Till, id: string): void =>
  void db.prepare("UPDATE checkouts SET state = 'closed' WHERE id = ? AND state IN ('open', 'second')").run(id);

/** Somebody gave a card on the page of a checkout. One that is refused leaves it open for another. */
export function payCheckout(
  db: Till,
  id: string,
  card: { does: Behaviour; last: string },
  now: number,
): "done" | "second" | { why: string } {
  return db.transaction((): "done" | "second" | { why: string } => {
    const c = checkoutRow(db, id)!;
    if (c.state === "paid" || c.state === "waiting") return "done";
    if (c.state === "closed") return { why: CLOSED };
    const why = card.does === "once" ? undefined : WHY[card.does];
    if (why) {
      db.prepare("UPDATE checkouts SET why = ? WHERE id = ?").run(why, id);
      return { why };
    }
    const method = idOf("way");
    const { customer } = bodyOf(c);
    db.prepare("INSERT INTO methods (id, account, customer, does, last, uses) VALUES (?, ?, ?, ?, ?, 0)").run(
      method,
      c.account,
      customer,
      card.does,
      card.last,
    );
    const state = card.does === "second step" && c.state !== "second" ? "second" : card.does === "slow" ? "waiting" : "paid";
    db.prepare("UPDATE checkouts SET state = ?, method = ?, why = NULL, ready_at = ? WHERE id = ?").run(
      state,
      method,
      state === "waiting" ? now + SLOW_MS : null,
      id,
    );
    if (state === "second") return "second";
    if (state === "paid") settle(db, checkoutRow(db, id)!, now, card.does === "lost");
    return "done";
  })();
}

/** The second step is taken, or turned down. */
export function secondStep(db: Till, id: string, yes: boolean, now: number): void {
  db.transaction(() => {
    const c = checkoutRow(db, id);
    if (c?.state !== "second") return;
    if (yes) {
      db.prepare("UPDATE checkouts SET state = 'paid' WHERE id = ?").run(id);
      settle(db, checkoutRow(db, id)!, now, false);
    } else db.prepare("UPDATE checkouts SET state = 'open', why = 'The second step was turned down.' WHERE id = ?").run(id);
  })();
}

export function ripen(db: Till, now: number): void {
  const ready = db.prepare("SELECT id FROM checkouts WHERE state = 'waiting' AND ready_at <= ?").pluck().all(now) as string[];
  for (const id of ready)
    db.transaction(() => {
      db.prepare("UPDATE checkouts SET state = 'paid' WHERE id = ?").run(id);
      settle(db, checkoutRow(db, id)!, now, false);
    })();
}

function settle(db: Till, c: CheckoutRow, now: number, lost: boolean): void {
  const body = bodyOf(c);
  const payment = body.amount > 0 ? addPayment(db, c.account, body, now) : null;
  db.prepare("UPDATE checkouts SET payment = ? WHERE id = ?").run(payment, c.id);
  if (c.method) db.prepare("UPDATE methods SET uses = uses + 1 WHERE id = ?").run(c.method);
  if (!lost) tell(db, c.account, "checkout", c.id, outcomeOf(db, checkoutRow(db, c.id)!), now);
}

function addPayment(db: Till, account: string, p: Pick<CheckoutBody, "amount" | "currency" | "reference" | "what">, now: number): string {
  const id = idOf("mny");
  // A rehearsal's account has a clock of its own, ahead of the real one.
  const ahead = db.prepare("SELECT clock FROM accounts WHERE id = ?").pluck().get(account) as number;
  db.prepare("INSERT INTO payments (id, account, amount, currency, reference, what, at) VALUES (?, ?, ?, ?, ?, ?, ?)").run(
    id,
    account,
    p.amount,
    p.currency,
    p.reference,
    p.what,
    now + ahead,
  );
  return id;
}

export interface ChargeBody {
  readonly customer: string;
  readonly method: string;
  readonly amount: number;
  readonly currency: string;
  readonly what: string;
  readonly reference: string;
}

/** Null where the way to pay is not that customer's. */
export function charge(db: Till, account: AccountRow, c: ChargeBody, now: number): Outcome | null {
  const kept = db
    .prepare("SELECT does FROM methods WHERE id = ? AND customer = ? AND account IN (?, ?)")
    .get(c.method, c.customer, account.id, account.parent ?? account.id) as { does: Behaviour } | undefined;
  if (!kept) return null;
  const why = WHY[kept.does] ?? null;
  const payment = why === null ? addPayment(db, account.id, c, now) : null;
  db.prepare("UPDATE methods SET uses = uses + 1 WHERE id = ?").run(c.method);
  const outcome: Outcome = {
    state: why === null ? "paid" : "refused",
    reference: c.reference,
    payment,
    amount: c.amount,
    currency: c.currency,
    method: methodOf(db, c.method),
    why,
  };
  if (kept.does !== "lost") tell(db, account.id, "charge", payment ?? idOf("try"), outcome, now);
  return outcome;
}

/** Null for what is no payment of the account's, or where more would go back than came. */
export function refund(
  db: Till,
  account: AccountRow,
  r: { payment: string; amount: number; reference: string },
  now: number,
): string | null {
  const changed = db
    .prepare("UPDATE payments SET refunded = refunded + ? WHERE id = ? AND account = ? AND refunded + ? <= amount")
    .run(r.amount, r.payment, account.id, r.amount).changes;
  if (changed === 0) return null;
  const id = idOf("bck");
  const { currency } = db.prepare("SELECT currency FROM payments WHERE id = ?").get(r.payment) as { currency: string };
  const outcome = {
    state: "paid",
    reference: r.reference,
    payment: r.payment,
    amount: r.amount,
    currency,
    method: null,
    why: null,
  } as const;
  tell(db, account.id, "refund", id, outcome, now);
  return id;
}

function tell(db: Till, account: string, type: string, subject: string, outcome: Outcome, now: number): void {
  const { faults } = db.prepare("SELECT faults FROM accounts WHERE id = ?").get(account) as { faults: string };
  const f = JSON.parse(faults) as Faults;
  const at = now + (f.late ?? 0) * 1000;
  // Out of order: it waits until the one after it has gone.
  const next = f.disordered ? at + 4_000 : at;
  if (f.disordered)
    db.prepare("UPDATE events SET next_at = ? WHERE account = ? AND done_at IS NULL AND tries = 0").run(next + 1_000, account);
  db.prepare("INSERT INTO events (id, account, body, next_at, made_at) VALUES (?, ?, ?, ?, ?)").run(
    idOf("evt"),
    account,
    JSON.stringify({ type, subject, outcome }),
    next,
    now,
  );
}
