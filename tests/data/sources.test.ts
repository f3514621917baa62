/** Other systems: connected, chosen from, mapped, filled, kept up to date; what is wrong there changes nothing here. */
import { createServer, type Server } from "node:http";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { SourceAdapter, SourceSettings } from "@/services/sources/contract";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { signInToOffice } from "../support/people";
import { type Postgres, startPostgres } from "../support/postgres";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
process.env.ELKHORN_DATA = data;
process.env.ELKHORN_INSIDE = "localhost";
const { SOURCES } = await import("@/services/sources");
const systems = `http://localhost:${port}/portals/fernhill/connections/systems`;
let b: Browser;
let db: Postgres;
let web: Server;
let webPort: number;
/** What stands at the address, by its path. */
const pages = new Map<string, { status?: number; headers?: Record<string, string>; body: string | (() => AsyncIterable<string>) }>();

beforeAll(async () => {
  web = createServer(async (request, response) => {
    const page = pages.get(request.url ?? "/");
    response.writeHead(page?.status ?? (page ? 200 : 404), page?.headers ?? {});
    if (typeof page?.body === "function") for await (const part of page.body()) response.write(part);
    response.end(typeof page?.body === "string" ? page.body : undefined);
  });
  await new Promise<void>((done) => web.listen(0, "127.0.0.1", done));
  webPort = (web.address() as { port: number }).port;
  [db, b] = await Promise.all([startPostgres(), openBrowser()]);
  await db.query(`CREATE TABLE equipment (tag text PRIMARY KEY, name text NOT NULL, bought date, worth numeric(18, 4));
    INSERT INTO equipment VALUES ('EQ-1', 'Router table', '2024-03-01', 1250.5), ('EQ-2', 'Pantograph', '2019-11-30', 880), ('EQ-3', 'Kiln', NULL, 12345678901234.5678)`);
  await signInToOffice(b, port);
}, 60_000);
afterAll(async () => {
  await b.close();
  web.closeAllConnections();
  web.close();
  await db.stop();
});

const settingsOf = (): Record<keyof typeof SOURCES, SourceSettings> => ({
  address: { address: `http://localhost:${webPort}/equipment.csv` },
  postgres: { host: "localhost", port: String(db.port), database: "records", user: "elkhorn", password: "", tls: "off" },
});

/** The one contract of all kinds: each is given the same table. */
describe.each(Object.keys(SOURCES) as (keyof typeof SOURCES)[])("the adapter %s", (kind) => {
  const adapter: SourceAdapter = SOURCES[kind];
  beforeAll(
    () =>
      void pages.set("/equipment.csv", {
        body: "tag,name,bought,worth\nEQ-1,Router table,2024-03-01,1250.5000\nEQ-2,Pantograph,2019-11-30,880.0000\nEQ-3,Kiln,,12345678901234.5678\n",
      }),
  );
  it("says what there is, and hands all of it over as text with every digit", async () => {
    const found = await adapter.objects(settingsOf()[kind]);
    if (!found.ok) throw new Error(found.error.message);
    expect(found.value.length).toBe(1);
    const came = await adapter.read(settingsOf()[kind], found.value[0]!.id);
    if (!came.ok) throw new Error(came.error.message);
    const lines = (await new Response(came.value.body).text())
      .replace(/^\ufeff/, "")
      .trim()
      .split(/\r?\n/);
    expect(lines.map((l) => l.replaceAll('"', "").split(","))).toEqual([
      ["tag", "name", "bought", "worth"],
      ["EQ-1", "Router table", "2024-03-01", "1250.5000"],
      ["EQ-2", "Pantograph", "2019-11-30", "880.0000"],
      ["EQ-3", "Kiln", "", "12345678901234.5678"],
    ]);
  });
  it("reaches nothing inside that is not listed, and says in a sentence why nothing comes", async () => {
    const inside = { ...settingsOf()[kind], address: `http://127.0.0.1:${webPort}/equipment.csv`, host: "127.0.0.1" };
    const nowhere = { ...settingsOf()[kind], address: "http://localhost:1/x.csv", port: "1" };
    for (const [s, words] of [
      [inside, /own network/],
      [nowhere, /could not be reached/],
    ] as const) {
      const found = await adapter.objects(s);
      expect([found.ok, found.ok ? "" : found.error.message]).toEqual([false, expect.stringMatching(words)]);
      const read = await adapter.read(s, "table");
      expect(read.ok).toBe(false);
    }
  });
});

describe("a table at a web address", () => {
  const read = (path: string) => SOURCES.address.read({ address: `http://localhost:${webPort}${path}` }, "table");
  it("follows redirects, but not inside, not to a file, and not for ever", async () => {
    pages.set("/moved", { status: 302, headers: { location: "/equipment.csv" }, body: "" });
    pages.set("/inside", { status: 302, headers: { location: `http://127.0.0.1:${webPort}/equipment.csv` }, body: "" });
    pages.set("/file", { status: 302, headers: { location: "file:///etc/passwd" }, body: "" });
    pages.set("/round", { status: 302, headers: { location: "/round" }, body: "" });
    expect((await read("/moved")).ok).toBe(true);
    for (const [path, words] of [
      ["/inside", /own network/],
      ["/file", /no web address/],
      ["/round", /on and on/],
    ] as const) {
      const r = await read(path);
      expect([path, r.ok ? "" : r.error.message]).toEqual([path, expect.stringMatching(words)]);
    }
  });
  it("takes a list of objects as rows; what is shut, gone or down is told apart", async () => {
    pages.set("/list.json", { headers: { "content-type": "application/json" }, body: '{"items": [{"a": 1}, {"a": 2}]}' });
    const list = await read("/list.json");
    expect(list.ok && (await new Response(list.value.body).text())).toBe('{"a":1}\n{"a":2}');
    for (const [status, when] of [
      [401, "never"],
      [404, "never"],
      [429, "later"],
      [503, "later"],
    ] as const) {
      pages.set("/answers", { status, body: "" });
      const r = await read("/answers");
      expect([status, r.ok ? "" : r.error.when]).toEqual([status, when]);
    }
  });
  it("that sends more than a table may have ends with an error, whatever it said of its size", async () => {
    const endless = async function* () {
      for (let i = 0; i < 60; i++) yield "x".repeat(1_000_000);
    };
    pages.set("/endless", { body: endless });
    const r = await read("/endless");
    if (!r.ok) throw new Error(r.error.message);
    await expect(new Response(r.value.body).arrayBuffer()).rejects.toThrow(/more than/);
  });
});

it("a database that lets nobody in, or has no such table, says so", async () => {
  const wrong = await SOURCES.postgres.objects({ ...settingsOf().postgres, database: "never" });
  expect(wrong.ok ? "" : wrong.error).toEqual({ when: "never", message: "localhost has no such database." });
  const gone = await SOURCES.postgres.read(settingsOf().postgres, '["public","never"]');
  expect(gone.ok ? "" : gone.error.message).toBe("This table is not there any more.");
  const open = await SOURCES.postgres.objects({ ...settingsOf().postgres, tls: "" });
  expect(open.ok ? "" : open.error.message).toContain("does not encrypt");
  const odd = await SOURCES.postgres.read(settingsOf().postgres, '["public","equipment\\" ; DROP TABLE equipment; --"]');
  expect(odd.ok).toBe(false);
  expect((await SOURCES.postgres.objects(settingsOf().postgres)).ok).toBe(true);
});

it("a database is connected, a table of it mapped and brought in, and kept up to date; the password is nowhere", async () => {
  await b.go(`${systems}/new`);
  await b.click("//label[contains(., 'PostgreSQL')]/input");
  await b.type("#system-name", "Workshop records");
  await b.type("#system-host", "localhost");
  await b.type("#system-port", "1");
  await b.type("#system-database", "records");
  await b.type("#system-user", "elkhorn");
  await b.type("#system-password", "reads-only-42");
  await b.type("#system-tls", "off");
  await b.press("Connect");
  await b.seesText("could not be reached");
  await b.type("#system-port", String(db.port));
  await catchActions(b);
  await b.press("Connect");
  await b.seesText("Choose what comes in");
  const page = new URL(await b.driver.getCurrentUrl()).pathname;
  await b.press("See what there is");
  await b.click('button[aria-label="Bring equipment in"]');
  await b.seesText("Pantograph");
  await b.press("Check all rows");
  await b.press("Bring in 3 new records");
  await b.seesText("Equipment");
  await b.go(`http://localhost:${port}${page}`);
  await b.seesText("Brought in once by hand");
  await b.choose("//select[starts-with(@id, 'every-')]", "Every hour");
  await b.press("Save");
  await b.seesText("Saved.");
  await db.query(
    "INSERT INTO equipment VALUES ('EQ-4', 'Band saw', '2025-01-02', 300); UPDATE equipment SET name = 'Old kiln' WHERE tag = 'EQ-3'",
  );
  await b.press("Read it now");
  await b.until(async () => {
    await b.go(`http://localhost:${port}${page}`);
    return (await b.text()).includes("Fresh");
  });
  await b.click("//summary[contains(., 'The last readings')]");
  await b.seesText("1 added, 1 changed, 2 the same");
  await db.query("ALTER TABLE equipment RENAME COLUMN name TO called");
  await catchActions(b);
  await b.press("Read it now");
  await b.until(async () => {
    await b.go(`http://localhost:${port}${page}`);
    return (await b.text()).includes("Paused");
  });
  await b.seesText("“name” is not among its columns any more");
  const { readFileSync, readdirSync } = await import("node:fs");
  const { join } = await import("node:path");
  for (const f of readdirSync(join(data, "portals"))) expect(readFileSync(join(data, "portals", f)).includes("reads-only-42")).toBe(false);
  await catchActions(b);
  await b.press("Disconnect");
  await b.press("Disconnect Workshop records");
  await b.seesText("No other system yet");
  await answersOwnerAlone(port, b, await caughtActions(b), page, /"ok":/);
  await b.go(`http://localhost:${port}/portals/fernhill/data`);
  await b.seesText("Equipment");
});
