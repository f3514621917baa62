/** The Till as a process of its own: `tsx src/till/main.ts PORT FILE [PORT OF ELKHORN]`. It answers on this machine alone. */
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { answerApi } from "./api";
import { readCard } from "./cards";
import { deliverDue } from "./deliver";
import { deskPage, payPage, secondPage, told } from "./pages";
import { accountById, accounts, addAccount, type Faults, moveHooks, openTill, type Till } from "./store";
import { bodyOf, CLOSED, checkoutRow, payCheckout, ripen, secondStep } from "./work";

const MOST_BYTES = 64 * 1024;

export function startTill(port: number, path: string, elkhorn?: number): Promise<{ port: number; db: Till; close: () => Promise<void> }> {
  const db = openTill(path);
  if (elkhorn) moveHooks(db, elkhorn);
  const server = createServer((request, response) => {
    answer(db, request, response).catch(() => {
      if (!response.headersSent) response.writeHead(500);
      response.end();
    });
  });
  let ended = false;
  let under: Promise<unknown> = Promise.resolve();
  const tick = setInterval(() => {
    ripen(db, Date.now());
    under = deliverDue(db, Date.now()).catch(() => 0);
  }, 150);
  return new Promise((done, failed) => {
    server.once("error", failed);
    server.listen(port, "127.0.0.1", () => {
      const at = (server.address() as { port: number }).port;
      const close = async (): Promise<void> => {
        if (ended) return;
        ended = true;
        clearInterval(tick);
        server.closeAllConnections();
        await new Promise((over) => server.close(over));
        await under;
        db.close();
      };
      done({ port: at, db, close });
    });
  });
}

async function read(request: IncomingMessage): Promise<string | null> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of request) {
    size += (part as Buffer).length;
    if (size > MOST_BYTES) return null;
    parts.push(part as Buffer);
  }
  return Buffer.concat(parts).toString("utf8");
}

async function answer(db: Till, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const { pathname } = new URL(request.url ?? "/", "http://till.localhost");
  const body = request.method === "POST" ? await read(request) : "";
  if (body === null) return void response.writeHead(413).end();
  if (pathname.startsWith("/v1/")) {
    const { status, said } = answerApi(db, {
      method: request.method ?? "",
      pathname,
      headers: request.headers,
      body,
      host: request.headers.host ?? "",
    });
    response
      .writeHead(status, { "content-type": status < 400 ? "application/json" : "application/problem+json" })
      .end(JSON.stringify(said));
    return;
  }
  const page = pageAt(db, request.method === "POST", pathname, new URLSearchParams(body));
  if ("to" in page) response.writeHead(page.status ?? 303, page.to ? { location: page.to } : {}).end();
  else
    response
      .writeHead(page.status ?? 200, {
        "content-type": "text/html; charset=utf-8",
        "cache-control": "no-store",
        "content-security-policy": "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; frame-ancestors 'none'",
        "referrer-policy": "no-referrer",
      })
      .end(page.text);
}

type Page = { readonly text: string; readonly status?: number } | { readonly to: string; readonly status?: number };
const html = (text: string, status = 200): Page => ({ text, status });
const to = (where: string): Page => ({ to: where });

function pageAt(db: Till, post: boolean, pathname: string, form: URLSearchParams): Page {
  if (pathname === "/health") return { to: "", status: 204 };
  const pay = /^\/pay\/(pay_[0-9a-f]{24})(\/second)?$/.exec(pathname);
  if (pay) return payment(db, pay[1]!, pay[2] !== undefined, post ? form : null);
  if (post) return desk(db, pathname, form);
  if (pathname === "/") return html(deskPage(shown(db, null)));
  return html(told("Nothing here", "There is nothing at this address."), 404);
}

function payment(db: Till, id: string, second: boolean, form: URLSearchParams | null): Page {
  const c = checkoutRow(db, id);
  const account = c && accountById(db, c.account);
  if (!c || !account) return html(told("Nothing here", "There is no such payment."), 404);
  const body = bodyOf(c);
  if (second && form) {
    secondStep(db, id, form.get("yes") === "1", Date.now());
    const after = checkoutRow(db, id)!;
    return after.state === "open" ? html(payPage(account, id, body, after.why)) : to(body.back);
  }
  if (c.state === "paid" || c.state === "waiting")
    return form ? to(body.back) : html(told("Paid already", "There is nothing more to pay here.", body.back));
  if (c.state === "closed") return html(told("Withdrawn", CLOSED, body.back));
  if (!form) return html(c.state === "second" ? secondPage(account, id, body) : payPage(account, id, body, c.why));
  if (account.mode === "live")
    return html(payPage(account, id, body, "The Till is simulated: a live account takes no card.", { name: form.get("name") ?? "" }), 422);
  const card = readCard(form.get("number") ?? "", form.get("until") ?? "", Date.now());
  if ("problem" in card) return html(payPage(account, id, body, card.problem, { name: form.get("name") ?? "" }), 422);
  const done = payCheckout(db, id, card, Date.now());
  if (done === "second") return html(secondPage(account, id, body));
  if (done === "done") return to(body.back);
  return html(
    payPage(account, id, body, `${done.why} Try another, or turn back: nothing has been taken.`, { name: form.get("name") ?? "" }),
    402,
  );
}

function desk(db: Till, pathname: string, form: URLSearchParams): Page {
  const event = /^\/events\/(evt_[0-9a-f]{24})$/.exec(pathname);
  if (event) {
    db.prepare("UPDATE events SET next_at = ? WHERE id = ?").run(Date.now(), event[1]);
    return to("/");
  }
  const of = /^\/accounts\/(acc_[0-9a-f]{24})$/.exec(pathname);
  if (of) {
    const faults: Faults = {
      late: Math.max(0, Math.min(3600, Number(form.get("late")) || 0)),
      ...Object.fromEntries(["twice", "disordered", "unsigned", "dies"].filter((k) => form.has(k)).map((k) => [k, true])),
    };
    db.prepare("UPDATE accounts SET faults = ? WHERE id = ?").run(JSON.stringify(faults), of[1]);
    return to("/");
  }
  if (pathname !== "/accounts") return html(told("Nothing here", "There is nothing at this address."), 404);
  const [name, hookUrl] = [form.get("name")?.trim() ?? "", form.get("hook")?.trim() ?? ""];
  if (!name || !URL.canParse(hookUrl)) return html(told("Not made", "A name and an address for its events are needed.", "/"), 422);
  const made = addAccount(db, { name, hookUrl, mode: form.get("mode") === "live" ? "live" : "test" });
  return html(deskPage(shown(db, { ...made, name })));
}

const shown = (db: Till, fresh: Parameters<typeof deskPage>[0]["fresh"]): Parameters<typeof deskPage>[0] => ({
  accounts: accounts(db),
  events: db.prepare("SELECT * FROM events ORDER BY made_at DESC LIMIT 40").all() as never,
  payments: db.prepare("SELECT * FROM payments ORDER BY at DESC LIMIT 40").all() as never,
  fresh,
});

if (process.argv[1]?.endsWith("main.ts") && process.argv[1].includes("till")) {
  const [port, path, elkhorn] = process.argv.slice(2);
  startTill(Number(port), path!, elkhorn ? Number(elkhorn) : undefined).then(
    (till) => {
      console.log(`The Till answers on port ${till.port}`);
      for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => void till.close().then(() => process.exit(0)));
    },
    (e: NodeJS.ErrnoException) => {
      console.error(`The Till cannot start on port ${port} (${e.code ?? e.message}).`);
      process.exit(1);
    },
  );
}
