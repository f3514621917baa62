/** The Ledger Room as a process of its own: `tsx src/ledger-room/main.ts PORT FILE`. It answers on this machine alone. */
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { setTimeout as wait } from "node:timers/promises";
import { answerApi, type Said } from "./api";
import { described } from "./described";
import { FAULT_WORDS, roomPage } from "./pages";
import { type Faults, faultsOf, type Ledger, openLedger, setFaults } from "./store";

const MOST_BYTES = 256 * 1024;
const DRIP_MS = 200;

export function startLedgerRoom(port: number, path: string): Promise<{ port: number; db: Ledger; close: () => Promise<void> }> {
  const db = openLedger(path);
  const server = createServer((request, response) => {
    answer(db, request, response).catch(() => {
      if (!response.headersSent) response.writeHead(500);
      response.end();
    });
  });
  return new Promise((done, failed) => {
    server.once("error", failed);
    server.listen(port, "127.0.0.1", () => {
      const close = async (): Promise<void> => {
        server.closeAllConnections();
        await new Promise((over) => server.close(over));
        db.close();
      };
      done({ port: (server.address() as { port: number }).port, db, close });
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

async function answer(db: Ledger, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const url = new URL(request.url ?? "/", `http://${request.headers.host ?? "localhost"}`);
  const body = await read(request);
  if (body === null) return void response.writeHead(413).end();
  const faults = faultsOf(db);
  if (url.pathname.startsWith("/v1")) {
    if (faults.hangs) return;
    const said = answerApi(db, { method: request.method ?? "", url, headers: request.headers, body }, faults, Date.now());
    return send(response, said, faults);
  }
  if (request.method === "POST" && url.pathname === "/faults") {
    setFaults(db, faultsIn(new URLSearchParams(body)));
    return void response.writeHead(303, { location: "/" }).end();
  }
  if (url.pathname === "/openapi.json") return send(response, { status: 200, said: described(url.origin) }, {});
  if (url.pathname !== "/") return void response.writeHead(404).end();
  response
    .writeHead(200, {
      "content-type": "text/html; charset=utf-8",
      "content-security-policy":
        "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
    })
    .end(roomPage(db, faults));
}

async function send(response: ServerResponse, { status, said, headers }: Said, faults: Faults): Promise<void> {
  const text = said === null ? "" : JSON.stringify(said);
  const type = status < 400 || status === 412 ? "application/json" : "application/problem+json";
  const length = faults.liesAboutSize ? { "content-length": String(Math.floor(Buffer.byteLength(text) / 2)) } : {};
  response.writeHead(status, { ...(said === null ? {} : { "content-type": type }), ...headers, ...length });
  if (faults.drips)
    for (const c of text) {
      if (response.closed) return;
      response.write(c);
      await wait(DRIP_MS);
    }
  else if (text && faults.liesAboutSize) return void response.socket?.end(text);
  else if (text) response.write(text);
  response.end();
}

const faultsIn = (form: URLSearchParams): Faults => ({
  ...(Number(form.get("status")) > 0 ? { status: Number(form.get("status")) } : {}),
  ...Object.fromEntries(Object.keys(FAULT_WORDS).flatMap((k) => (form.has(k) ? [[k, true]] : []))),
});

if (process.argv[1]?.endsWith("main.ts") && process.argv[1].includes("ledger-room")) {
  const [port, path] = process.argv.slice(2);
  startLedgerRoom(Number(port), path!).then(
    (room) => {
      console.log(`The Ledger Room answers on port ${room.port}`);
      for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => void room.close().then(() => process.exit(0)));
    },
    (e: NodeJS.ErrnoException) => {
      console.error(`The Ledger Room cannot start on port ${port} (${e.code ?? e.message}).`);
      process.exit(1);
    },
  );
}
