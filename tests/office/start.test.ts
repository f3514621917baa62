/** A stranger starts Elkhorn from an empty folder: the first account, the first portal, and what watches and ends the process. */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, mkdtempSync, readdirSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { Client } from "../support/client";
import { freePort } from "../support/server";

const ROOT = join(import.meta.dirname, "../..");
const data = mkdtempSync(join(tmpdir(), "elkhorn-start-"));
afterAll(() => rmSync(data, { recursive: true, force: true }));

interface Started {
  readonly child: ChildProcess;
  readonly said: () => string;
}

function start(settings: Record<string, string>): Started {
  let said = "";
  const child = spawn(process.execPath, ["scripts/serve.mjs"], {
    cwd: ROOT,
    env: { ...process.env, NODE_ENV: "production", ...settings },
    stdio: ["ignore", "pipe", "pipe"],
  });
  for (const s of [child.stdout!, child.stderr!]) s.on("data", (d: Buffer) => (said += d.toString()));
  return { child, said: () => said };
}
async function until(so: () => boolean | Promise<boolean>, otherwise: () => string): Promise<void> {
  for (const end = Date.now() + 30_000; !(await so()); await new Promise((r) => setTimeout(r, 50)))
    if (Date.now() > end) throw new Error(otherwise());
}

describe("from an empty folder", () => {
  let port: number;
  let server: Started;
  let b: Browser;
  const watched = (path: string, host = "localhost") => new Client(port, host).get(path).catch(() => null);
  beforeAll(async () => {
    port = await freePort();
    server = start({ ELKHORN_DATA: data, ELKHORN_PORT: String(port) });
    await until(async () => (await watched("/-/ready"))?.status === 200, server.said);
    b = await openBrowser();
  });
  afterAll(async () => {
    await b.close();
    server.child.kill("SIGKILL");
  });

  it("the first visit asks for the code that the server printed, and makes the owner's account, then the first portal", async () => {
    const code = /with this code: (\S+)/.exec(server.said())![1]!;
    await b.go(`http://localhost:${port}/`);
    await b.seesText("The first account");
    await b.type("#code", "AAAAA-AAAAA");
    await b.type("#name", "Agnes Thorne");
    await b.type("#email", "agnes@thorne.example");
    await b.type("#password", "too short");
    await b.press("Make the account");
    await b.seesText("This is not the code that the server printed");
    expect(await b.attribute("#name", "value")).toBe("Agnes Thorne");
    await b.type("#code", code.toLowerCase().replace("-", " "));
    await b.type("#password", "too short");
    await b.press("Make the account");
    await b.seesText("Use at least 15 characters.");
    await b.type("#password", "slow green herons at noon");
    await b.press("Make the account");
    await b.seesText("No portal yet");
    await b.type("#name", "Thorne Studio");
    await b.type("#slug", "www");
    await b.press("Make the portal");
    await b.seesText("www is an address that Elkhorn needs for itself.");
    await b.type("#slug", "thorne");
    await b.press("Make the portal");
    await b.seesText("2 tables, 0 records".replace("2 tables", "0 tables"));
    expect((await watched("/", "thorne.localhost"))?.status).toBe(200);
  });
  it("nobody can make another account so, with the code or without", async () => {
    const again = await new Client(port, "localhost").get("/-/setup");
    expect([again.status, again.headers.location]).toEqual([307, "/sign-in"]);
  });
  it("answers what watches it under any name, and tells it nothing", async () => {
    for (const host of ["localhost", "thorne.localhost", "10.0.0.7", "anything.example"])
      expect([(await watched("/-/health", host))?.json, (await watched("/-/ready", host))?.json]).toEqual([
        { status: "ok" },
        { status: "ready" },
      ]);
  });
  it("logs a JSON line for each request, with an id and without who or what", async () => {
    const answer = await new Client(port, "thorne.localhost").get(`/sign-in?to=${"secret".repeat(3)}`);
    const id = answer.headers["x-request-id"] as string;
    await until(() => server.said().includes(id), server.said);
    const line = server
      .said()
      .split("\n")
      .find((l) => l.includes(id))!;
    expect(JSON.parse(line)).toMatchObject({ id, method: "GET", path: "/sign-in", status: 200 });
    expect(server.said()).not.toMatch(/secretsecret|agnes|herons/);
  });
  it("its files are its owner's alone", () => {
    // Nobody else on the machine reads what is kept, the logs of the databases neither.
    const kept = readdirSync(data, { recursive: true, encoding: "utf8" }).map((name) => [name, statSync(join(data, name))] as const);
    expect(kept.length).toBeGreaterThan(2);
    for (const [name, x] of kept) expect([name, x.mode & 0o077]).toEqual([name, 0]);
  });
  it("asked to end, it finishes what is under way, closes its files, and says so", async () => {
    server.child.kill("SIGTERM");
    const [code] = await once(server.child, "exit");
    expect(code).toBe(0);
    expect(server.said()).toContain('"stopped"');
    expect(existsSync(join(data, "elkhorn.db-wal"))).toBe(false); // the last to close brings the log into the file
  });
});

it("a wrong setting is named with what is expected, and the start refuses", async () => {
  const { child, said } = start({ ELKHORN_DATA: data, ELKHORN_PORT: String(await freePort()), ELKHORN_MAIL: "mail.example" });
  const [code] = await once(child, "exit");
  expect([code, said()]).toEqual([1, expect.stringContaining("ELKHORN_MAIL is “mail.example”; expected: stand-in, or an address")]);
});

it("where browsers come by https, cookies are theirs over https alone", async () => {
  const port = await freePort();
  const { child, said } = start({ ELKHORN_DATA: data, ELKHORN_PORT: String(port), ELKHORN_ADDRESS: "https://portals.example" });
  try {
    await until(async () => (await new Client(port, "portals.example").get("/-/ready").catch(() => null))?.status === 200, said);
    const page = await new Client(port, "portals.example").get("/sign-in");
    expect([page.status, page.headers["strict-transport-security"]]).toEqual([200, "max-age=63072000; includeSubDomains"]);
  } finally {
    child.kill("SIGKILL");
  }
});
