/**
 * A payment provider. Card numbers never come here: people give them on the provider's own pages. Whatever is asked with a key is done once
 * for that key, however often it is asked (draft-ietf-httpapi-idempotency-key-header). Amounts are whole minor units (ISO 4217).
 */
import type { Result } from "@/core/result";

/** `later` is worth another try with the same key; `never` is refused for good. */
export interface PaymentsError {
  readonly when: "never" | "later";
  readonly message: string;
}
type Answer<T> = Promise<Result<T, PaymentsError>>;

export interface Method {
  readonly id: string;
  /** As people know it: "card ending in 4242". */
  readonly words: string;
}

export interface CheckoutWanted {
  readonly customer: string | null;
  readonly email: string;
  /** Nothing, where only a way to pay is to be kept. */
  readonly amount: number;
  readonly currency: string;
  readonly what: string;
  /** Ours, which comes back with every answer about it. */
  readonly reference: string;
  /** Whether the way to pay is kept for later charges. */
  readonly keep: boolean;
  /** Where the person goes when they are through, or turn back. */
  readonly back: string;
}

/** What has become of a checkout or a charge, by the provider's own word. */
export interface Outcome {
  /** closed: withdrawn by us before anybody paid; nobody can any more. */
  readonly state: "open" | "waiting" | "paid" | "refused" | "closed";
  readonly reference: string;
  /** The payment's id; null where nothing was to be paid. */
  readonly payment: string | null;
  readonly amount: number;
  readonly currency: string;
  readonly method: Method | null;
  /** Why it was refused, for people. */
  readonly why: string | null;
}

export interface PaymentEvent {
  /** The same for each delivery of it. */
  readonly id: string;
  readonly type: "checkout" | "charge" | "refund";
  /** Id of the checkout, charge or refund at the provider. */
  readonly subject: string;
  readonly outcome: Outcome;
}

export interface Payments {
  customer(c: { readonly name: string; readonly email: string; readonly reference: string }, key: string): Answer<{ readonly id: string }>;
  checkout(c: CheckoutWanted, key: string): Answer<{ readonly id: string; readonly url: string }>;
  /** Asked where an event is late. */
  checkoutNow(id: string): Answer<Outcome>;
  /** Withdraws an open checkout, so that nobody pays it any more. Answers what has become of it: it may have been paid before. */
  close(id: string, key: string): Answer<Outcome>;
  /** A way to pay that is kept is charged while nobody is there. */
  charge(
    c: {
      readonly customer: string;
      readonly method: string;
      readonly amount: number;
      readonly currency: string;
      readonly what: string;
      readonly reference: string;
    },
    key: string,
  ): Answer<Outcome>;
  refund(
    r: { readonly payment: string; readonly amount: number; readonly reference: string },
    key: string,
  ): Answer<{ readonly id: string }>;
}

/** An account of the agency's at the provider. */
export interface Account {
  readonly secret: string;
  readonly mode: "test" | "live";
}

/** A provider as this installation knows it: how accounts are spoken for, and how its events are known to be its own. */
export interface Provider {
  readonly id: string;
  readonly name: string;
  /** Where it is found, for people. */
  readonly site: string;
  /** By the secret itself: a test key never passes for a live one. Null for what is no key of this provider. */
  modeOf(secret: string): "test" | "live" | null;
  /** Whether a text can be the secret that events are signed with. */
  isHook(hook: string): boolean;
  payments(account: Account): Payments;
  /** A throw-away test account that knows the same customers: for rehearsals. Null where this provider has none. */
  rehearsal: ((account: Account, hookAddress: string, key: string) => Answer<{ readonly secret: string; readonly hook: string }>) | null;
  /** Such an account goes by the rehearsal's clock: milliseconds ahead of the real one. */
  rehearsalClock: ((account: Account, ahead: number, key: string) => Answer<{ readonly ahead: number }>) | null;
  /** Null for whatever is not signed by it with this secret, or too old. */
  event(hook: string, headers: Readonly<Record<string, string>>, body: string): PaymentEvent | null;
}
