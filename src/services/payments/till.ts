/**
 * The Till: a simulated provider that ships with Elkhorn, spoken to as a real one is, over HTTP with a secret key. Its events are signed by
 * Standard Webhooks (specification 1.0.0).
 */
import { request } from "node:http";
import { Webhook } from "standardwebhooks";
import { z } from "zod";
import { err, ok, type Result } from "@/core/result";
import type { Account, Outcome, PaymentEvent, Payments, PaymentsError, Provider } from "./contract";

/** Milliseconds. */
const PATIENCE = 8_000;
const MOST_BYTES = 64 * 1024;

const outcome = z.object({
  state: z.enum(["open", "waiting", "paid", "refused", "closed"]),
  reference: z.string(),
  payment: z.string().nullable(),
  amount: z.number().int(),
  currency: z.string(),
  method: z.object({ id: z.string(), words: z.string() }).nullable(),
  why: z.string().nullable(),
});
const eventBody = z.object({ type: z.enum(["checkout", "charge", "refund"]), subject: z.string(), outcome });
const withId = z.object({ id: z.string() });
const withUrl = z.object({ id: z.string(), url: z.url() });
const problem = z.object({ detail: z.string() });

export const tillProvider = (site: string): Provider => ({
  id: "till",
  name: "The Till",
  site,
  modeOf: (secret) => (/^till-(test|live)-[\w-]{20,60}$/.exec(secret)?.[1] as "test" | "live" | undefined) ?? null,
  isHook: (hook) => /^whsec_[A-Za-z0-9+/]{32,64}={0,2}$/.test(hook),
  payments: (account) => tillPayments(site, account),
  rehearsal: (account, hook, key) =>
    call(
      { site, secret: account.secret, method: "POST", path: "/v1/rehearsals", body: { hook }, key },
      z.object({ secret: z.string(), hook: z.string() }),
    ),
  rehearsalClock: (account, ahead, key) =>
    call({ site, secret: account.secret, method: "POST", path: "/v1/clock", body: { ahead }, key }, z.object({ ahead: z.number() })),
  event: readEvent,
});

function readEvent(hook: string, headers: Readonly<Record<string, string>>, body: string): PaymentEvent | null {
  try {
    const known = eventBody.safeParse(new Webhook(hook).verify(body, headers as Record<string, string>));
    const id = headers["webhook-id"];
    return known.success && id ? { id, ...known.data } : null;
  } catch {
    return null; // not signed by it, or longer ago than five minutes
  }
}

function tillPayments(site: string, { secret }: Account): Payments {
  const ask = <T>(method: string, path: string, read: z.ZodType<T>, body?: object, key?: string) =>
    call({ site, secret, method, path, body, key }, read);
  return {
    customer: (c, key) => ask("POST", "/v1/customers", withId, c, key),
    checkout: (c, key) => ask("POST", "/v1/checkouts", withUrl, c, key),
    checkoutNow: (id) => ask<Outcome>("GET", `/v1/checkouts/${encodeURIComponent(id)}`, outcome),
    close: (id, key) => ask<Outcome>("POST", `/v1/checkouts/${encodeURIComponent(id)}/close`, outcome, {}, key),
    charge: (c, key) => ask<Outcome>("POST", "/v1/charges", outcome, c, key),
    refund: (r, key) => ask("POST", "/v1/refunds", withId, r, key),
  };
}

interface Call {
  readonly site: string;
  readonly secret: string;
  readonly method: string;
  readonly path: string;
  readonly body: object | undefined;
  readonly key: string | undefined;
}

/** Names under `localhost` are this machine (RFC 6761 section 6.3), though not every resolver knows them. */
function call<T>(c: Call, read: z.ZodType<T>): Promise<Result<T, PaymentsError>> {
  const url = new URL(c.path, c.site);
  const body = c.body ? JSON.stringify(c.body) : "";
  const headers: Record<string, string> = { host: url.host, authorization: `Bearer ${c.secret}` };
  if (c.body) Object.assign(headers, { "content-type": "application/json", "content-length": String(Buffer.byteLength(body)) });
  if (c.key) headers["idempotency-key"] = c.key;
  const host = url.hostname === "localhost" || url.hostname.endsWith(".localhost") ? "127.0.0.1" : url.hostname;
  return new Promise((done) => {
    const later = (message: string): void => done(err({ when: "later", message }));
    const sent = request({ host, port: url.port || 80, method: c.method, path: url.pathname, headers, timeout: PATIENCE }, (answer) => {
      const parts: Buffer[] = [];
      let size = 0;
      answer.on("data", (part: Buffer) => {
        size += part.length;
        if (size <= MOST_BYTES) parts.push(part);
        else answer.destroy();
      });
      answer.on("end", () => done(understood(answer.statusCode ?? 0, Buffer.concat(parts).toString("utf8"), read)));
      answer.on("error", () => later("The payment provider broke off."));
    });
    sent.on("timeout", () => sent.destroy(new Error("late")));
    sent.on("error", (e) =>
      later(e.message === "late" ? "The payment provider did not answer in time." : "The payment provider cannot be reached."),
    );
    sent.end(body);
  });
}

function understood<T>(status: number, body: string, read: z.ZodType<T>): Result<T, PaymentsError> {
  let said: unknown;
  try {
    said = JSON.parse(body);
  } catch {
    return err({ when: "later", message: `The payment provider answered ${status} without sense.` });
  }
  if (status >= 200 && status < 300) {
    const known = read.safeParse(said);
    return known.success ? ok(known.data) : err({ when: "never", message: "The payment provider answered what is not understood." });
  }
  const told = problem.safeParse(said);
  // RFC 9110 section 15.5: the fault is ours, but for being too early or too often.
  const ours = status >= 400 && status < 500 && status !== 408 && status !== 409 && status !== 429;
  return err({ when: ours ? "never" : "later", message: told.success ? told.data.detail : `The payment provider answered ${status}.` });
}
