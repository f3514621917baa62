/** One contract for all kinds of other systems, each with the same table; and what each of them has of its own. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { SourceAdapter, SourceRow, SourceRows, SourceTable, SourceWrite, SourceWritten } from "@/services/sources/contract";
import { type Faults, putItem, removeItem, setFaults } from "../../src/ledger-room/store";
import { startMaria } from "../support/mariadb";
import { type Systems, startSystems } from "../support/systems";

const folder = mkdtempSync(join(tmpdir(), "elkhorn-sources-"));
process.env.ELKHORN_DATA = folder;
process.env.ELKHORN_INSIDE = "localhost";
const { SOURCES } = await import("@/services/sources");
const { asFile } = await import("@/services/sources/as-file");
let s: Systems;

beforeAll(async () => {
  s = await startSystems();
}, 60_000);
afterAll(async () => {
  await s.stop();
  rmSync(folder, { recursive: true, force: true });
});

type Kinds = keyof typeof SOURCES;
/** Three rows in each of them, by the names of its own columns: key, name, date, number. */
const COLUMNS: Record<Kinds, readonly [string, string, string, string]> = {
  address: ["tag", "name", "bought", "worth"],
  postgres: ["tag", "name", "bought", "worth"],
  mysql: ["tag", "name", "bought", "worth"],
  dav: ["uid", "name", "note", "phone"],
  ledger: ["id", "title", "closes", "worth"],
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
    const came = await adapter.read(s.settings[kind], s.objects[kind], since);
    if (!came.ok) throw new Error(came.error.message);
    return rowsOf(came.value);
  };
  it("says what there is, and hands all of it over as text with every digit", async () => {
    const found = await adapter.objects(s.settings[kind]);
    if (!found.ok) throw new Error(found.error.message);
    expect(found.value.map((o) => o.id)).toContain(s.objects[kind]);
    const came = (await read()).map((r) => [r[name], r[date], r[number]]);
    expect(came.sort((a, b) => (a[0]! < b[0]! ? -1 : 1))).toEqual([
      ["Kiln", "", "12345678901234.5678"],
      ["Pantograph", "2019-11-30", "880.0000"],
      ["Router table", "2024-03-01", "1250.5000"],
    ]);
  });
  it("reaches nothing inside that is not listed, and says in a sentence why nothing comes", async () => {
    const inside = { ...s.settings[kind], address: `http://127.0.0.1:${s.web.port}/equipment.csv`, host: "127.0.0.1" };
    const nowhere = { ...s.settings[kind], address: "http://localhost:1/x.csv", port: "1" };
    for (const [settings, words] of [
      [inside, /own network/],
      [nowhere, /could not be reached/],
    ] as const) {
      const found = await adapter.objects(settings);
      expect([found.ok, found.ok ? "" : found.error.message]).toEqual([false, expect.stringMatching(words)]);
      const came = await adapter.read(settings, s.objects[kind], null);
      expect(came.ok).toBe(false);
      if (!adapter.write) continue;
      const written = await adapter.write(settings, s.objects[kind], {
        key: "x",
        values: { [name]: "y" },
        seen: null,
        once: "1",
        isOthers: null,
      });
      expect([written.ok, written.ok ? "" : written.error.message]).toEqual([false, expect.stringMatching(words)]);
    }
  });
  if (adapter.filters)
    it("gives only rows whose column holds what was asked for, and says where there is no such column", async () => {
      const only = (column: string, ...values: string[]) => adapter.read(s.settings[kind], s.objects[kind], null, { column, values });
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
        const done = await adapter.write!(s.settings[kind], s.objects[kind], w);
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
      const wrong = await adapter.write!(s.settings[kind], s.objects[kind], {
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
  const visits = (): string => `calendar http://localhost:${s.dav.port}/elkhorn/visits/`;
  it("keep what Elkhorn does not know, and are not read again where nothing has changed", async () => {
    await SOURCES.dav.write!(s.settings.dav, s.objects.dav, {
      key: "EQ-1",
      values: { phone: "01632 960100" },
      seen: null,
      once: "g",
      isOthers: null,
    });
    // Read back by a parser that is not the one that wrote it.
    const card = await s.dav.get("clients/EQ-1.vcf");
    expect(card.split(/\r?\n/)).toEqual(expect.arrayContaining(["X-SHELF:1", "TEL;TYPE=WORK:01632 960100", "FN:Router table"]));
    const all = await SOURCES.dav.read(s.settings.dav, s.objects.dav, null);
    if (!all.ok || !("pieces" in all.value)) throw new Error("no rows");
    const again = await SOURCES.dav.read(s.settings.dav, s.objects.dav, all.value.end().mark);
    if (!again.ok || !("pieces" in again.value)) throw new Error("no rows");
    expect([again.value.whole, await rowsOf(again.value)]).toEqual([false, []]);
  });
  it("make and move events: a day by its last day, a moment in UTC, and none without a beginning", async () => {
    const write = (key: string | null, values: SourceRow, once: string) =>
      SOURCES.dav.write!(s.settings.dav, visits(), { key, values, seen: null, once, isOthers: null });
    const made = await write(null, { title: "Survey of the slipway", starts: "2026-12-09", ends: "2026-12-10" }, "h");
    if (!made.ok || made.value.kind !== "written") throw new Error("not made");
    const { key } = made.value;
    // RFC 5545 section 3.6.1: DTEND is the day after the last.
    expect(await s.dav.get(`visits/${key}.ics`)).toMatch(/DTSTART;VALUE=DATE:20261209[\s\S]*DTEND;VALUE=DATE:20261211/);
    expect((await write(null, { title: "Survey of the slipway", starts: "2026-12-09", ends: "2026-12-10" }, "h")).ok).toBe(true);
    const moved = await write(key, { starts: "2026-12-09T10:30:00Z", ends: "" }, "i");
    expect(moved).toMatchObject({ ok: true, value: { row: { starts: "2026-12-09T10:30:00Z", ends: "", title: "Survey of the slipway" } } });
    const came = await SOURCES.dav.read(s.settings.dav, visits(), null);
    expect(came.ok && (await rowsOf(came.value)).map((r) => [r.uid, r.starts])).toEqual([[key, "2026-12-09T10:30:00Z"]]);
    const none = await write(null, { title: "Never" }, "j");
    expect(none.ok ? "" : none.error.message).toContain("needs a beginning");
  });
});

describe("the Ledger Room", () => {
  const read = (since: string | null) => SOURCES.ledger.read(s.settings.ledger, "tickets", since);
  const fault = (faults: Faults): void => setFaults(s.room.db, faults);
  afterAll(() => fault({}));
  it("tells what has changed since a mark, removed ones too, and nothing where nothing has", async () => {
    for (let i = 0; i < 1_200; i++) putItem(s.room.db, "tickets", null, { subject: `Ticket ${i}`, state: "open" }, 0);
    const all = await read(null);
    if (!all.ok || !("pieces" in all.value)) throw new Error("no rows");
    expect((await rowsOf(all.value)).length).toBe(1_200);
    const { mark } = all.value.end();
    const none = await read(mark);
    expect(none.ok && (await rowsOf(none.value))).toEqual([]);
    putItem(s.room.db, "tickets", "TI-0007", { state: "closed" }, 0);
    removeItem(s.room.db, "tickets", "TI-0008", 0);
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
    const other = await SOURCES.ledger.objects({ ...s.settings.ledger, key: "ledger_of-another" });
    expect(other.ok ? "" : other.error).toMatchObject({ when: "never", message: expect.stringContaining("does not let us in") });
  });
});

describe("a table at a web address", () => {
  const read = (path: string) => SOURCES.address.read({ address: `http://localhost:${s.web.port}${path}` }, "table", null);
  it("follows redirects, but not inside, not to a file, and not for ever", async () => {
    s.web.pages.set("/moved", { status: 302, headers: { location: "/equipment.csv" }, body: "" });
    s.web.pages.set("/inside", { status: 302, headers: { location: `http://127.0.0.1:${s.web.port}/equipment.csv` }, body: "" });
    s.web.pages.set("/file", { status: 302, headers: { location: "file:///etc/passwd" }, body: "" });
    s.web.pages.set("/round", { status: 302, headers: { location: "/round" }, body: "" });
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
    s.web.pages.set("/list.json", { headers: { "content-type": "application/json" }, body: '{"items": [{"a": 1}, {"a": 2}]}' });
    const list = await read("/list.json");
    expect(list.ok && "body" in list.value && (await new Response(list.value.body).text())).toBe('{"a":1}\n{"a":2}');
    for (const [status, when] of [
      [401, "never"],
      [404, "never"],
      [429, "later"],
      [503, "later"],
    ] as const) {
      s.web.pages.set("/answers", { status, body: "" });
      const r = await read("/answers");
      expect([status, r.ok ? "" : r.error.when]).toEqual([status, when]);
    }
  });
  it("that sends more than a table may have ends with an error, whatever it said of its size", async () => {
    const endless = async function* () {
      for (let i = 0; i < 530; i++) yield "x".repeat(1_000_000);
    };
    s.web.pages.set("/endless", { body: endless });
    const r = await read("/endless");
    if (!r.ok || !("body" in r.value)) throw new Error("no file");
    await expect(new Response(r.value.body).arrayBuffer()).rejects.toThrow(/more than/);
  });
});

it("a database that lets nobody in, or has no such table, says so", async () => {
  const wrong = await SOURCES.postgres.objects({ ...s.settings.postgres, database: "never" });
  expect(wrong.ok ? "" : wrong.error).toEqual({ when: "never", message: "localhost has no such database." });
  const gone = await SOURCES.postgres.read(s.settings.postgres, '["public","never"]', null);
  expect(gone.ok ? "" : gone.error.message).toBe("This table is not there any more.");
  const open = await SOURCES.postgres.objects({ ...s.settings.postgres, tls: "" });
  expect(open.ok ? "" : open.error.message).toContain("does not encrypt");
  const odd = await SOURCES.postgres.read(s.settings.postgres, '["public","equipment\\" ; DROP TABLE equipment; --"]', null);
  expect(odd.ok).toBe(false);
  expect((await SOURCES.postgres.objects(s.settings.postgres)).ok).toBe(true);
});

it("a database that takes encrypted connections alone: its certificate is checked unless the owner says otherwise", async () => {
  const my = await startMaria({ encrypted: true });
  try {
    const objects = async (tls: string) => {
      const found = await SOURCES.mysql.objects({ ...s.settings.mysql, port: String(my.port), tls });
      return found.ok ? found.value.map((o) => o.id) : found.error.message;
    };
    await my.query("CREATE TABLE tools (tag varchar(20) PRIMARY KEY)");
    expect(await objects("")).toMatch(/^The certificate of localhost is not one that is trusted/);
    expect(await objects("off")).toMatch(/whether it only takes encrypted connections/);
    expect(await objects("unchecked")).toEqual(["tools"]);
  } finally {
    await my.stop();
  }
});
