/** A provider in memory, for tests that need neither HTTP nor a card: once for a key, and told to refuse or not to answer. */
import { ok } from "@/core/result";
import type { Method, Outcome, Payments, PaymentsError } from "@/services/payments/contract";

type Answer = { ok: true; value: never } | { ok: false; error: PaymentsError };

export class MemoryPayments implements Payments {
  readonly #answers = new Map<string, unknown>();
  readonly checkouts = new Map<string, Outcome & { readonly keep: boolean }>();
  /** Every payment that was really taken. */
  readonly taken: { readonly reference: string; readonly amount: number; readonly payment: string }[] = [];
  readonly back: { readonly payment: string; readonly amount: number }[] = [];
  #n = 0;
  refuses = false;
  silent = false;

  #id = (kind: string): string => `${kind}-${++this.#n}`;
  async #once<T>(key: string, work: () => T) {
    if (this.silent) return { ok: false, error: { when: "later", message: "The payment provider cannot be reached." } } as Answer;
    if (!this.#answers.has(key)) this.#answers.set(key, work());
    return ok(this.#answers.get(key) as T);
  }

  customer: Payments["customer"] = (_, key) => this.#once(key, () => ({ id: this.#id("customer") }));
  checkout: Payments["checkout"] = (c, key) =>
    this.#once(key, () => {
      const id = this.#id("checkout");
      this.checkouts.set(id, {
        state: "open",
        reference: c.reference,
        payment: null,
        amount: c.amount,
        currency: c.currency,
        method: null,
        why: null,
        keep: c.keep,
      });
      return { id, url: `http://till.localhost/pay/${id}` };
    });
  checkoutNow: Payments["checkoutNow"] = async (id) => ok(this.checkouts.get(id)!);
  close: Payments["close"] = (id, key) =>
    this.#once(key, () => {
      const c = this.checkouts.get(id)!;
      if (c.state === "open") this.checkouts.set(id, { ...c, state: "closed" });
      return this.checkouts.get(id)!;
    });
  charge: Payments["charge"] = (c, key) =>
    this.#once(key, (): Outcome => {
      const payment = this.refuses ? null : this.#take(c.reference, c.amount);
      return {
        state: payment ? "paid" : "refused",
        reference: c.reference,
        payment,
        amount: c.amount,
        currency: c.currency,
        method: { id: c.method, words: "card ending in 0017" },
        why: payment ? null : "The card was refused by its bank.",
      };
    });
  refund: Payments["refund"] = (r, key) =>
    this.#once(key, () => {
      this.back.push({ payment: r.payment, amount: r.amount });
      return { id: this.#id("refund") };
    });

  #take(reference: string, amount: number): string {
    const payment = this.#id("payment");
    this.taken.push({ reference, amount, payment });
    return payment;
  }

  /** As a person on the provider's page. */
  pay(id: string): Outcome {
    const c = this.checkouts.get(id)!;
    if (c.state === "closed") return c;
    const method: Method = { id: this.#id("method"), words: "card ending in 0017" };
    const paid: Outcome & { keep: boolean } = {
      ...c,
      state: "paid",
      payment: c.amount > 0 ? this.#take(c.reference, c.amount) : null,
      method,
    };
    this.checkouts.set(id, paid);
    return paid;
  }
}
