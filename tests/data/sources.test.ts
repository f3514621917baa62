/** Other systems: connected, chosen from, mapped, filled, kept up to date; what is wrong there changes nothing here. */
import { createServer, type Server } from "node:http";
import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type {
  SourceAdapter,
  SourceRow,
  SourceRows,
  SourceSettings,
  SourceTable,
  SourceWrite,
  SourceWritten,
} from "@/services/sources/contract";
import { startLedgerRoom } from "../../src/ledger-room/main";
import { addKey, type Faults, itemBy, putItem, removeItem, setFaults } from "../../src/ledger-room/store";
import { answersOwnerAlone, catchActions, caughtActions } from "../support/actions";
import { type Browser, openBrowser } from "../support/browser";
import { type Maria, startMaria } from "../support/mariadb";
import { signInToOffice } from "../support/people";
import { type Postgres, startPostgres } from "../support/postgres";
import { type Radicale, startRadicale } from "../support/radicale";
import { ownServer } from "../support/server";

const { port, data } = await ownServer();
process.env.ELKHORN_DATA = data;
process.env.ELKHORN_INSIDE = "localhost";
const { SOURCES } = await import("@/services/sources");
const systems = `http://localhost:${port}/portals/fernhill/connections/systems`;
const { asFile } = await import("@/services/sources/as-file");
let b: Browser;
let db: Postgres;
let my: Maria;
let dav: Radicale;
let room: Awaited<ReturnType<typeof startLedgerRoom>>;
let roomKey: string;
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
  [db, my, dav, room, b] = await Promise.all([
    startPostgres(),
    startMaria(),
    startRadicale(),
    startLedgerRoom(0, ":memory:"),
    openBrowser(),
  ]);
  const rows =
    "('EQ-1', 'Router table', '2024-03-01', 1250.5), ('EQ-2', 'Pantograph', '2019-11-30', 880), ('EQ-3', 'Kiln', NULL, 12345678901234.5678)";
  const table = "CREATE TABLE equipment (tag varchar(20) PRIMARY KEY, name varchar(80) NOT NULL, bought date, worth numeric(18, 4))";
  await db.query(`${table}; INSERT INTO equipment VALUES ${rows}`);
  await my.query(table);
  await my.query(`INSERT INTO equipment VALUES ${rows}`);
  roomKey = addKey(room.db, "Elkhorn");
  for (const [title, closes, worth] of [
    ["Router table", "2024-03-01", "1250.5000"],
    ["Pantograph", "2019-11-30", "880.0000"],
    ["Kiln", "", "12345678901234.5678"],
  ] as const)
    putItem(room.db, "deals", null, { title, closes, worth, stage: "Quoted" }, 0);
  OBJECT.dav = `contacts http://localhost:${dav.port}/elkhorn/clients/`;
  for (const [n, name, note, phone] of [
    [1, "Router table", "2024-03-01", "1250.5000"],
    [2, "Pantograph", "2019-11-30", "880.0000"],
    [3, "Kiln", "", "12345678901234.5678"],
  ] as const) {
    const card = `BEGIN:VCARD\r\nVERSION:3.0\r\nUID:EQ-${n}\r\nFN:${name}\r\nN:${name};;;;\r\n${note && `NOTE:${note}\r\n`}TEL;TYPE=WORK:${phone}\r\nX-SHELF:${n}\r\nEND:VCARD\r\n`;
    await dav.put(`clients/EQ-${n}.vcf`, "text/vcard", card);
  }
  await signInToOffice(b, port);
}, 60_000);
afterAll(async () => {
  await b.close();
  web.closeAllConnections();
  web.close();
  await Promise.all([db.stop(), my.stop(), dav.stop(), room.close()]);
});

type Kinds = keyof typeof SOURCES;
const settingsOf = (): Record<Kinds, SourceSettings> => ({
  address: { address: `http://localhost:${webPort}/equipment.csv` },
  postgres: { host: "localhost", port: String(db.port), database: "records", user: "elkhorn", password: "", tls: "off" },
  mysql: { host: "localhost", port: String(my.port), database: "records", user: "elkhorn", password: "reads-only", tls: "off" },
  dav: { address: `http://localhost:${dav.port}`, user: "elkhorn", password: "reads-only" },
  ledger: { address: `http://localhost:${room.port}`, key: roomKey },
});
/** Three rows in each of them, by the names of its own columns: key, name, date, number. */
const COLUMNS: Record<Kinds, readonly [string, string, string, string]> = {
  address: ["tag", "name", "bought", "worth"],
  postgres: ["tag", "name", "bought", "worth"],
  mysql: ["tag", "name", "bought", "worth"],
  dav: ["uid", "name", "note", "phone"],
  ledger: ["id", "title", "closes", "worth"],
};
const OBJECT: Record<Kinds, string> = {
  address: "table",
  postgres: '["public","equipment"]',
  mysql: "equipment",
  dav: "contacts http://localhost/elkhorn/clients/",
  ledger: "deals",
};

async function rowsOf(came: SourceTable | SourceRows): Promise<Record<string, string>[]> {
  const { body } = "pieces" in came ? asFile(came) : came;
  const text = (await new Response(body).text()).replace(/^\ufeff/, "").trim();
  const [header, ...rows] = text.split(/\r?\n/).map((l) => l.replaceAll('"', "").split(","));
  return rows.map((r) => Object.fromEntries(r.map((v, i) => [header![i]!, v])));
}

/** The one contract of all kinds: each is given the same table. */
describe.each(Object.keys(SOURCES) as Kinds[])("the adapter %s", (kind) => {
  const adapter: SourceAdapter = SOURCES[kind];
  const [key, name, date, number] = COLUMNS[kind];
  const read = async (since: string | null = null): Promise<Record<string, string>[]> => {
    const came = await adapter.read(settingsOf()[kind], OBJECT[kind], since);
    if (!came.ok) throw new Error(came.error.message);
    return rowsOf(came.value);
  };
  beforeAll(
    () =>
      void pages.set("/equipment.csv", {
        body: "tag,name,bought,worth\nEQ-1,Router table,2024-03-01,1250.5000\nEQ-2,Pantograph,2019-11-30,880.0000\nEQ-3,Kiln,,12345678901234.5678\n",
      }),
  );
  it("says what there is, and hands all of it over as text with every digit", async () => {
    const found = await adapter.objects(settingsOf()[kind]);
    if (!found.ok) throw new Error(found.error.message);
    expect(found.value.map((o) => o.id)).toContain(OBJECT[kind]);
    const came = (await read()).map((r) => [r[name], r[date], r[number]]);
    expect(came.sort((a, b) => (a[0]! < b[0]! ? -1 : 1))).toEqual([
      ["Kiln", "", "12345678901234.5678"],
      ["Pantograph", "2019-11-30", "880.0000"],
      ["Router table", "2024-03-01", "1250.5000"],
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
      const came = await adapter.read(s, OBJECT[kind], null);
      expect(came.ok).toBe(false);
      if (!adapter.write) continue;
      const written = await adapter.write(s, OBJECT[kind], { key: "x", values: { [name]: "y" }, seen: null, once: "1", isOthers: null });
      expect([written.ok, written.ok ? "" : written.error.message]).toEqual([false, expect.stringMatching(words)]);
    }
  });
  if (adapter.filters)
    it("gives only rows whose column holds what was asked for, and says where there is no such column", async () => {
      const only = (column: string, ...values: string[]) => adapter.read(settingsOf()[kind], OBJECT[kind], null, { column, values });
      const some = await only(name, "Kiln", "Pantograph", "'; DROP TABLE equipment; --");
      if (!some.ok) throw new Error(some.error.message);
      expect((await rowsOf(some.value)).map((r) => r[name]).sort()).toEqual(["Kiln", "Pantograph"]);
      const none = await only('never"; --', "x");
      const why = none.ok ? await rowsOf(none.value).then(String, (e: Error) => e.message) : none.error.message;
      expect(why).toMatch(/no such column|have no never/);
    });
  if (adapter.write)
    it("changes one row and makes one, and writes over nothing that it has not seen", async () => {
      const write = async (w: SourceWrite): Promise<SourceWritten> => {
        const done = await adapter.write!(settingsOf()[kind], OBJECT[kind], w);
        if (!done.ok) throw new Error(done.error.message);
        return done.value;
      };
      const row = (await read()).find((r) => r[name] === "Pantograph")!;
      const own = row[key]!;
      const changed = await write({ key: own, values: { [name]: 'Panto"graph; --' }, seen: row, once: "a", isOthers: null });
      expect(changed).toMatchObject({ kind: "written", key: own, row: { [name]: 'Panto"graph; --', [date]: "2019-11-30" } });
      const late = { key: own, values: { [name]: "Late" }, seen: row, once: "b", isOthers: null };
      expect(await write(late)).toMatchObject({ kind: "differs", row: { [name]: 'Panto"graph; --' } });
      // Another column of the same row is not in the way.
      expect(await write({ key: own, values: { [date]: "2020-01-01" }, seen: row, once: "c", isOthers: null })).toMatchObject({
        kind: "written",
      });
      expect(await write({ ...late, seen: null, values: { [name]: "Pantograph", [date]: "" } })).toMatchObject({
        kind: "written",
        row: { [date]: "" },
      });
      expect(await write({ key: "NEVER", values: { [name]: "x" }, seen: null, once: "d", isOthers: null })).toEqual({ kind: "gone" });
      const made = await write({ key: null, values: { [key]: "EQ-9", [name]: "Band saw" }, seen: null, once: "e", isOthers: null });
      if (made.kind !== "written") throw new Error(made.kind);
      // Sent again, as nobody knows whether it arrived, it is found: by what tells tries apart, or by its values.
      const again = {
        key: null,
        values: { [key]: "EQ-9", [name]: "Band saw" },
        seen: null,
        once: "e",
        isOthers: (k: string) => k !== made.key,
      };
      expect(await write(again)).toMatchObject({ kind: "written", key: made.key });
      expect((await read()).map((r) => r[name]).sort()).toEqual(["Band saw", "Kiln", "Pantograph", "Router table"]);
      if (kind === "dav") return; // whose values are all text
      const wrong = await adapter.write!(settingsOf()[kind], OBJECT[kind], {
        key: own,
        values: { [number]: "many" },
        seen: null,
        once: "f",
        isOthers: null,
      });
      expect(wrong.ok ? "" : wrong.error).toMatchObject({ when: "never", message: expect.stringContaining("refuses it") });
    });
});

describe("contacts and calendars", () => {
  const visits = (): string => `calendar http://localhost:${dav.port}/elkhorn/visits/`;
  it("keep what Elkhorn does not know, and are not read again where nothing has changed", async () => {
    await SOURCES.dav.write!(settingsOf().dav, OBJECT.dav, {
      key: "EQ-1",
      values: { phone: "01632 960100" },
      seen: null,
      once: "g",
      isOthers: null,
    });
    // Read back by a parser that is not the one that wrote it.
    const card = await dav.get("clients/EQ-1.vcf");
    expect(card.split(/\r?\n/)).toEqual(expect.arrayContaining(["X-SHELF:1", "TEL;TYPE=WORK:01632 960100", "FN:Router table"]));
    const all = await SOURCES.dav.read(settingsOf().dav, OBJECT.dav, null);
    if (!all.ok || !("pieces" in all.value)) throw new Error("no rows");
    const again = await SOURCES.dav.read(settingsOf().dav, OBJECT.dav, all.value.end().mark);
    if (!again.ok || !("pieces" in again.value)) throw new Error("no rows");
    expect([again.value.whole, await rowsOf(again.value)]).toEqual([false, []]);
  });
  it("make and move events: a day by its last day, a moment in UTC, and none without a beginning", async () => {
    const write = (key: string | null, values: SourceRow, once: string) =>
      SOURCES.dav.write!(settingsOf().dav, visits(), { key, values, seen: null, once, isOthers: null });
    const made = await write(null, { title: "Survey of the slipway", starts: "2026-12-09", ends: "2026-12-10" }, "h");
    if (!made.ok || made.value.kind !== "written") throw new Error("not made");
    const { key } = made.value;
    // RFC 5545 section 3.6.1: DTEND is the day after the last.
    expect(await dav.get(`visits/${key}.ics`)).toMatch(/DTSTART;VALUE=DATE:20261209[\s\S]*DTEND;VALUE=DATE:20261211/);
    expect((await write(null, { title: "Survey of the slipway", starts: "2026-12-09", ends: "2026-12-10" }, "h")).ok).toBe(true);
    const moved = await write(key, { starts: "2026-12-09T10:30:00Z", ends: "" }, "i");
    expect(moved).toMatchObject({ ok: true, value: { row: { starts: "2026-12-09T10:30:00Z", ends: "", title: "Survey of the slipway" } } });
    const came = await SOURCES.dav.read(settingsOf().dav, visits(), null);
    expect(came.ok && (await rowsOf(came.value)).map((r) => [r.uid, r.starts])).toEqual([[key, "2026-12-09T10:30:00Z"]]);
    const none = await write(null, { title: "Never" }, "j");
    expect(none.ok ? "" : none.error.message).toContain("needs a beginning");
  });
});

describe("the Ledger Room", () => {
  const read = (since: string | null) => SOURCES.ledger.read(settingsOf().ledger, "tickets", since);
  const fault = (faults: Faults): void => setFaults(room.db, faults);
  afterAll(() => fault({}));
  it("tells what has changed since a mark, removed ones too, and nothing where nothing has", async () => {
    for (let i = 0; i < 1_200; i++) putItem(room.db, "tickets", null, { subject: `Ticket ${i}`, state: "open" }, 0);
    const all = await read(null);
    if (!all.ok || !("pieces" in all.value)) throw new Error("no rows");
    expect((await rowsOf(all.value)).length).toBe(1_200);
    const { mark } = all.value.end();
    const none = await read(mark);
    expect(none.ok && (await rowsOf(none.value))).toEqual([]);
    putItem(room.db, "tickets", "TI-0007", { state: "closed" }, 0);
    removeItem(room.db, "tickets", "TI-0008", 0);
    const some = await read(mark);
    if (!some.ok || !("pieces" in some.value)) throw new Error("no rows");
    expect((await rowsOf(some.value)).map((r) => [r.id, r.state])).toEqual([["TI-0007", "closed"]]);
    expect(some.value.end().gone).toEqual(["TI-0008"]);
  });
  it("that repeats pages is read once, and that leaves rows out is not taken for whole", async () => {
    fault({ repeats: true });
    const twice = await read(null);
    expect(twice.ok && (await rowsOf(twice.value)).length).toBe(1_199);
    // Three pages, of which the later ones are asked for twice.
    fault({ rations: true });
    const rationed = await read(null);
    expect(rationed.ok && (await rowsOf(rationed.value)).length).toBe(1_199);
    fault({ skips: true });
    const some = await read(null);
    if (!some.ok) throw new Error(some.error.message);
    await expect(rowsOf(some.value)).rejects.toThrow(/left out/);
  });
  it("that refuses, is down, or lies about its size says so; how long it asks to be left alone is kept", async () => {
    for (const [faults, error] of [
      [{ status: 401 }, { when: "never" }],
      [{ status: 429 }, { when: "later", wait: 2_000 }],
      [{ status: 503 }, { when: "later" }],
      [{ liesAboutSize: true }, { when: "later" }],
    ] as const) {
      fault(faults);
      const came = await read(null);
      expect([faults, came.ok ? null : came.error]).toEqual([faults, expect.objectContaining(error)]);
    }
    fault({});
    const other = await SOURCES.ledger.objects({ ...settingsOf().ledger, key: "ledger_of-another" });
    expect(other.ok ? "" : other.error).toMatchObject({ when: "never", message: expect.stringContaining("does not let us in") });
  });
});

describe("a table at a web address", () => {
  const read = (path: string) => SOURCES.address.read({ address: `http://localhost:${webPort}${path}` }, "table", null);
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
    expect(list.ok && "body" in list.value && (await new Response(list.value.body).text())).toBe('{"a":1}\n{"a":2}');
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
      for (let i = 0; i < 530; i++) yield "x".repeat(1_000_000);
    };
    pages.set("/endless", { body: endless });
    const r = await read("/endless");
    if (!r.ok || !("body" in r.value)) throw new Error("no file");
    await expect(new Response(r.value.body).arrayBuffer()).rejects.toThrow(/more than/);
  });
});

it("a database that lets nobody in, or has no such table, says so", async () => {
  const wrong = await SOURCES.postgres.objects({ ...settingsOf().postgres, database: "never" });
  expect(wrong.ok ? "" : wrong.error).toEqual({ when: "never", message: "localhost has no such database." });
  const gone = await SOURCES.postgres.read(settingsOf().postgres, '["public","never"]', null);
  expect(gone.ok ? "" : gone.error.message).toBe("This table is not there any more.");
  const open = await SOURCES.postgres.objects({ ...settingsOf().postgres, tls: "" });
  expect(open.ok ? "" : open.error.message).toContain("does not encrypt");
  const odd = await SOURCES.postgres.read(settingsOf().postgres, '["public","equipment\\" ; DROP TABLE equipment; --"]', null);
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
  await b.press("Bring in 4 new records");
  await b.seesText("Equipment");
  await b.go(`http://localhost:${port}${page}`);
  await b.seesText("Fresh");
  await b.choose("//select[starts-with(@id, 'every-')]", "Every hour");
  await b.press("Save");
  await b.seesText("Saved.");
  await db.query(
    "INSERT INTO equipment VALUES ('EQ-4', 'Band saw', '2025-01-02', 300); UPDATE equipment SET name = 'Old kiln' WHERE tag = 'EQ-3'",
  );
  await b.press("Read it now");
  await b.until(async () => {
    await b.go(`http://localhost:${port}${page}`);
    await b.click("//summary[contains(., 'The last readings')]");
    return (await b.text()).includes("the same");
  });
  await b.seesText("1 added, 1 changed, 3 the same");
  await b.click("//li[contains(., '1 added, 1 changed')]/a");
  // What became of each row: which is new, and which says something else than before.
  await b.seesText(/Changed\s+\S[\s\S]*before Kiln, now Old kiln[\s\S]*Added/);
  const reading = new URL(await b.driver.getCurrentUrl()).pathname;
  await b.go(`http://localhost:${port}${reading.replace(/\d+$/, "99999")}`);
  expect(await b.text()).toContain("nothing at this address");
  await b.go(`http://localhost:${port}${page}`);
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

const shows = (page: string, words: string): Promise<void> =>
  b.until(async () => {
    await b.go(page);
    return (await b.text()).includes(words);
  });

it("the Ledger Room is connected, mapped and filled; what is changed in either reaches the other, and what both changed is asked about", async () => {
  setFaults(room.db, {});
  await b.go(`${systems}/new`);
  await b.click("//label[contains(., 'The Ledger Room')]/input");
  await b.type("#system-name", "Client records");
  await b.type("#system-address", `http://localhost:${room.port}`);
  await b.type("#system-key", "ledger_wrong");
  await b.press("Connect");
  await b.seesText("does not let us in");
  await b.type("#system-key", roomKey);
  await b.press("Connect");
  await b.seesText("Choose what comes in");
  const page = await b.driver.getCurrentUrl();
  await b.press("See what there is");
  await b.click('button[aria-label="Bring Deals in"]');
  await b.seesText("Kiln");
  await b.press("Check all rows");
  await b.press("Bring in 4 new records");
  await b.seesText("Deals");
  await b.go(page);
  await b.press("Read it now");
  await b.until(async () => {
    await b.go(page);
    await b.click("//summary[contains(., 'The last readings')]");
    return (await b.text()).includes("4 the same");
  });
  await b.click("//summary[contains(., 'What goes back')]");
  await b.choose("//li[label[starts-with(normalize-space(.), 'title')]]//select", "Comes in and goes back");
  await b.choose("//li[label[starts-with(normalize-space(.), 'stage')]]//select", "Comes in and goes back");
  await b.click("//label[contains(., 'Records made here')]/input");
  await catchActions(b);
  await b.press("Save what goes back");
  await b.seesText("Saved.");
  const asked = [...(await caughtActions(b))];
  const title = (): string => itemBy(room.db, "deals", "DE-0003")!.values.title!;
  const retitle = async (from: string, to: string): Promise<void> => {
    await b.go(`http://localhost:${port}/portals/fernhill/data/deals?q=${encodeURIComponent(from)}`);
    await b.seesText("title and stage go to Client records");
    await b.click(`//td//button[@data-cell][contains(., "${from}")]`);
    await b.keys('td input[aria-label="title"]', Key.chord(Key.CONTROL, "a"), `${to}\n`);
    await b.seesText(to);
  };
  await retitle("Kiln", "Large kiln");
  await b.until(async () => title() === "Large kiln");
  // Down for a while: nothing is lost, and it is said beside the record.
  setFaults(room.db, { status: 503 });
  await retitle("Large kiln", "Kiln for plates");
  await b.go(`http://localhost:${port}/portals/fernhill/data/deals`);
  await b.until(async () => {
    await b.driver.navigate().refresh();
    return (await b.count('tr a[aria-label^="A change has not arrived in another system"]')) === 1;
  });
  await shows(page, "answered 503");
  await b.click("//li[contains(., 'answered 503')]//a");
  await b.seesText("has not arrived in Client records");
  setFaults(room.db, {});
  await b.go(page);
  await b.press("Try them now");
  await b.until(async () => title() === "Kiln for plates");
  // Changed here and there, while nothing could go.
  setFaults(room.db, { status: 503 });
  await retitle("Kiln for plates", "Kiln of ours");
  await shows(page, "answered 503");
  putItem(room.db, "deals", "DE-0003", { title: "Kiln of theirs" }, 0);
  setFaults(room.db, {});
  await b.press("Try them now");
  await shows(page, "for you to decide");
  await b.seesText("Kiln of theirs");
  await catchActions(b);
  await b.click("//button[normalize-space(.)='Take theirs']");
  await b.seesText("comes in.");
  asked.push(...(await caughtActions(b)));
  await b.until(async () => {
    await b.go(`http://localhost:${port}/portals/fernhill/data/deals?q=Kiln`);
    return (await b.text()).includes("Kiln of theirs");
  });
  expect(title()).toBe("Kiln of theirs");
  await answersOwnerAlone(port, b, asked, new URL(page).pathname, /"ok":/);
});
