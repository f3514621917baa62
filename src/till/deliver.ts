/** Delivering events: signed by Standard Webhooks (specification 1.0.0), again and again with growing waits until they are taken; and wrong, where that was asked for. */
import { request } from "node:http";
import { Webhook } from "standardwebhooks";
import { accountById, type Faults, type Till } from "./store";

const FIRST_WAIT_MS = 1_000;
const LONGEST_WAIT_MS = 3_600_000;
const PATIENCE_MS = 10_000;
export const MOST_TRIES = 20;

interface EventRow {
  readonly id: string;
  readonly account: string;
  readonly body: string;
  readonly tries: number;
}

/** Whatever is due; each by itself, so that one that hangs holds up no other. */
export async function deliverDue(db: Till, now: number, most = 50): Promise<number> {
  const due = db
    .prepare("SELECT id, account, body, tries FROM events WHERE next_at <= ? ORDER BY next_at, made_at LIMIT ?")
    .all(now, most) as EventRow[];
  await Promise.all(due.map((e) => deliver(db, e, now)));
  return due.length;
}

async function deliver(db: Till, e: EventRow, now: number): Promise<void> {
  const account = accountById(db, e.account)!;
  const faults = JSON.parse(account.faults) as Faults;
  // A second delivery of one that was taken already is marked by its tries.
  db.prepare("UPDATE events SET tries = tries + 1, next_at = ? WHERE id = ?").run(
    e.tries + 1 >= MOST_TRIES ? null : now + Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 4 ** e.tries),
    e.id,
  );
  const said = await post(account.hook_url, signed(account.hook, e, faults, e.tries), e.body, faults.dies === true && e.tries === 0);
  if (said.startsWith("2")) {
    const again = faults.twice && e.tries === 0;
    db.prepare("UPDATE events SET done_at = ?, next_at = ?, said = ? WHERE id = ?").run(now, again ? now + 500 : null, said, e.id);
  } else db.prepare("UPDATE events SET said = ? WHERE id = ?").run(said, e.id);
}

function signed(hook: string, e: EventRow, faults: Faults, tries: number): Record<string, string> {
  const at = new Date();
  const key = faults.unsigned && tries === 0 ? `whsec_${Buffer.alloc(32, 7).toString("base64")}` : hook;
  return {
    "webhook-id": e.id,
    "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
    "webhook-signature": new Webhook(key).sign(e.id, at, e.body),
  };
}

/** The status that came back, or a word on why none did. It goes to this machine alone: the Till is a stand-in. */
function post(address: string, headers: Record<string, string>, body: string, dies: boolean): Promise<string> {
  const url = new URL(address);
  return new Promise((done) => {
    const sent = request(
      {
        host: "127.0.0.1",
        port: url.port || 80,
        method: "POST",
        path: url.pathname,
        timeout: PATIENCE_MS,
        headers: { host: url.host, "content-type": "application/json", "content-length": Buffer.byteLength(body), ...headers },
      },
      (answer) => {
        answer.resume();
        answer.on("end", () => done(String(answer.statusCode ?? 0)));
        answer.on("error", () => done("broke off"));
      },
    );
    sent.on("timeout", () => sent.destroy());
    sent.on("error", () => done(dies ? "died in the middle" : "no answer"));
    if (dies) {
      sent.write(body.slice(0, body.length >> 1));
      setTimeout(() => sent.destroy(), 100);
    } else sent.end(body);
  });
}
