/** The Till's HTTP API. Every POST carries an Idempotency-Key: the same key and body answer as they did, another body with it is refused. */
import type { IncomingHttpHeaders } from "node:http";
import { z } from "zod";
import { type AccountRow, accountBySecret, addAccount, hashOf, idOf, type Till } from "./store";
import { charge, checkoutRow, closeCheckout, makeCheckout, outcomeOf, refund } from "./work";

interface Asked {
  readonly method: string;
  readonly pathname: string;
  readonly headers: IncomingHttpHeaders;
  readonly body: string;
  readonly host: string;
}
interface Said {
  readonly status: number;
  readonly said: object;
}

const problem = (status: number, detail: string): Said => ({ status, said: { type: "about:blank", status, detail } });

const amount = z.int().min(0).max(1e12);
const currency = z.string().regex(/^[A-Z]{3}$/);
const text = z.string().min(1).max(500);
const checkoutBody = z.strictObject({
  customer: z.string().nullable(),
  email: z.string().max(254),
  amount,
  currency,
  what: text,
  reference: text,
  keep: z.boolean(),
  back: z.url(),
});
const chargeBody = z.strictObject({ customer: text, method: text, amount: amount.min(1), currency, what: text, reference: text });
const refundBody = z.strictObject({ payment: text, amount: amount.min(1), reference: text });
const customerBody = z.strictObject({ name: z.string().max(200), email: z.string().max(254), reference: text });

export function answerApi(db: Till, a: Asked): Said {
  const secret = /^Bearer (\S+)$/.exec(a.headers.authorization ?? "")?.[1];
  const account = secret && accountBySecret(db, secret);
  if (!account) return problem(401, "This key is none of the Till's.");
  const one = /^\/v1\/checkouts\/(pay_[0-9a-f]{24})$/.exec(a.pathname);
  if (a.method === "GET" && one) {
    const c = checkoutRow(db, one[1]!);
    return c?.account === account.id ? { status: 200, said: outcomeOf(db, c) } : problem(404, "There is no such checkout.");
  }
  const key = a.headers["idempotency-key"];
  if (a.method !== "POST" || typeof key !== "string" || !/^[\x21-\x7e]{1,200}$/.test(key))
    return problem(400, "A POST carries an Idempotency-Key.");
  return once(db, account, key, hashOf(`${a.pathname} ${a.body}`), () => act(db, account, a));
}

/** In one transaction with what it does: whoever asks again after a broken connection gets the first answer. */
function once(db: Till, account: AccountRow, key: string, asked: string, work: () => Said): Said {
  return db.transaction((): Said => {
    const known = db.prepare("SELECT asked, status, answer FROM keys WHERE account = ? AND key = ?").get(account.id, key) as
      | { asked: string; status: number; answer: string }
      | undefined;
    if (known && known.asked !== asked) return problem(422, "This Idempotency-Key was used for something else.");
    if (known) return { status: known.status, said: JSON.parse(known.answer) as object };
    const done = work();
    if (done.status < 500)
      db.prepare("INSERT INTO keys (account, key, asked, status, answer) VALUES (?, ?, ?, ?, ?)").run(
        account.id,
        key,
        asked,
        done.status,
        JSON.stringify(done.said),
      );
    return done;
  })();
}

function act(db: Till, account: AccountRow, a: Asked): Said {
  let body: unknown;
  try {
    body = JSON.parse(a.body);
  } catch {
    return problem(400, "The body is no JSON.");
  }
  const now = Date.now();
  const closing = /^\/v1\/checkouts\/(pay_[0-9a-f]{24})\/close$/.exec(a.pathname);
  if (closing) {
    const c = checkoutRow(db, closing[1]!);
    if (c?.account !== account.id) return problem(404, "There is no such checkout.");
    closeCheckout(db, c.id);
    return { status: 200, said: outcomeOf(db, checkoutRow(db, c.id)!) };
  }
  const wrong = (e: z.ZodError): Said => problem(422, e.issues.map((i) => `${i.path.join(".")}: ${i.message}`).join("; "));
  switch (a.pathname) {
    case "/v1/rehearsals": {
      const r = z.strictObject({ hook: z.url() }).safeParse(body);
      if (!r.success) return wrong(r.error);
      // What is made of a live account is a test account, too: it moves no money.
      const made = addAccount(db, {
        name: `${account.name} (rehearsal)`,
        mode: "test",
        hookUrl: r.data.hook,
        parent: account.parent ?? account.id,
      });
      return { status: 201, said: { secret: made.secret, hook: made.hook } };
    }
    case "/v1/clock": {
      const c = z.strictObject({ ahead: z.int().min(0).max(1e12) }).safeParse(body);
      if (!c.success) return wrong(c.error);
      if (account.parent === null) return problem(422, "Only a rehearsal's account has a clock of its own.");
      db.prepare("UPDATE accounts SET clock = max(clock, ?) WHERE id = ?").run(c.data.ahead, account.id);
      return { status: 200, said: { ahead: c.data.ahead } };
    }
    case "/v1/customers": {
      const c = customerBody.safeParse(body);
      if (!c.success) return wrong(c.error);
      const id = idOf("cus");
      db.prepare("INSERT INTO customers (id, account, name, email, reference) VALUES (?, ?, ?, ?, ?)").run(
        id,
        account.id,
        c.data.name,
        c.data.email,
        c.data.reference,
      );
      return { status: 201, said: { id } };
    }
    case "/v1/checkouts": {
      const c = checkoutBody.safeParse(body);
      if (!c.success) return wrong(c.error);
      const id = makeCheckout(db, account, c.data, now);
      return { status: 201, said: { id, url: `http://${a.host}/pay/${id}` } };
    }
    case "/v1/charges": {
      const c = chargeBody.safeParse(body);
      if (!c.success) return wrong(c.error);
      const done = charge(db, account, c.data, now);
      return done ? { status: 200, said: done } : problem(422, "This customer keeps no such way to pay.");
    }
    case "/v1/refunds": {
      const r = refundBody.safeParse(body);
      if (!r.success) return wrong(r.error);
      const id = refund(db, account, r.data, now);
      return id ? { status: 201, said: { id } } : problem(422, "There is no such payment, or more would go back than came.");
    }
    default:
      return problem(404, "There is nothing at this address.");
  }
}
