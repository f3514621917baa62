// The production server: Next behind a plain HTTP server, which logs each request by an id, and ends in good order when it is asked to.
// Run by `npm start`, `npm run demo` and the stories; settings come from the environment (see src/config.ts).
import { randomUUID } from "node:crypto";
import { createServer } from "node:http";
import { join } from "node:path";
import next from "next";
import pino from "pino";
import { caller } from "./caller.mjs";
import { brokenForm, dress, refuse, wrong } from "./gate.mjs";

process.env.NODE_ENV = "production";
if (process.env.ELKHORN_TEST_AHEAD && !process.env.VITEST) {
  console.error(
    "ELKHORN_TEST_AHEAD moves the clock and is for tests alone: dates, invoices and sessions would be false. Unset it to start.",
  );
  process.exit(1);
}
const port = Number(process.env.ELKHORN_PORT || 3000);
const hostname = process.env.ELKHORN_BIND || "localhost";
const log = pino({ level: process.env.ELKHORN_LOG || "info", base: null, timestamp: pino.stdTimeFunctions.isoTime });
const callerOf = caller(process.env.ELKHORN_PROXIES);
/** Requests under way are given so long to end. */
const GRACE_MS = 10_000;

// Long work has threads of its own (src/server/threads), which Next does not build.
const key = randomUUID();
globalThis.__elkhorn = new Map([
  ["thread file", join(import.meta.dirname, "..", process.env.ELKHORN_BENCH === "1" ? ".next-bench" : ".next", "threads", "worker.mjs")],
  ["inner key", key], // by which src/proxy.ts knows what this process asks of itself
]);

// Wrong settings are named, and end the process, as the first thing of this.
const app = next({ dev: false, dir: join(import.meta.dirname, ".."), port, hostname });
await app.prepare();
const handle = app.getRequestHandler();

const secure = process.env.ELKHORN_ADDRESS?.startsWith("https:") ?? false;

// Links to sign in with are secrets, and what is asked for stands in the query: neither is logged.
const pathOf = (url) =>
  url
    .split("?")[0]
    .split("/")
    .map((part) => (part.length > 40 ? "…" : part))
    .join("/");

/** Requests under way. A connection that a browser holds open without one does not keep the process. */
let underWay = 0;
let ending = false;

const server = createServer((request, response) => {
  underWay++;
  const id = randomUUID();
  const began = performance.now();
  request.headers["x-request-id"] = id;
  // What Next asks of this process for somebody keeps saying for whom.
  if (request.headers["x-elkhorn-key"] !== key) request.headers["x-elkhorn-from"] = callerOf(request);
  response.setHeader("x-request-id", id);
  dress(response, { secure });
  response.on("close", () => {
    underWay--;
    if (ending && underWay === 0) server.closeAllConnections();
    const ms = Math.round(performance.now() - began);
    const line = { id, method: request.method, path: pathOf(request.url ?? "/"), status: response.statusCode, ms };
    if (!response.writableFinished) log.warn(line, "ended early");
    else if (response.statusCode >= 500) log.error(line, "failed");
    else log.info(line);
  });
  answer(request, response).catch((err) => {
    log.error({ id, err }, "failed");
    if (!response.headersSent) response.writeHead(500);
    response.end();
  });
});

async function answer(request, response) {
  const problem = wrong(request, { key }) ?? (await brokenForm(request));
  if (problem) refuse(request, response, problem);
  else await handle(request, response);
}

// Longer than proxies keep an idle connection: else one is closed here just as a request comes by it, which the proxy then answers with 502.
server.keepAliveTimeout = 75_000;

server.on("error", (e) => {
  console.error(e.code === "EADDRINUSE" ? `Something answers on port ${port} already. Choose another with --port.` : e.message);
  process.exit(1);
});
server.listen(port, hostname, () => log.info({ port, hostname }, "ready"));

async function end(signal) {
  if (ending) return;
  ending = true;
  log.info({ signal }, "stopping");
  const one = globalThis.__elkhorn;
  if (one?.has("ending")) one.get("ending").is = true;
  const over = new Promise((done) => server.close(done));
  if (underWay === 0) server.closeAllConnections();
  const late = setTimeout(() => server.closeAllConnections(), GRACE_MS);
  await over;
  clearTimeout(late);
  await one?.get("at the end")?.();
  log.info("stopped");
  process.exit(0);
}
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => end(signal));
