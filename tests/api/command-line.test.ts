/** The command line: against the folder as its owner, against a running portal with what a key may; for scripts. */
import { spawn } from "node:child_process";
import { once } from "node:events";
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { text } from "node:stream/consumers";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Browser, openBrowser } from "../support/browser";
import { signedIn } from "../support/client";
import { signInToOffice } from "../support/people";
import { ownServer } from "../support/server";

const { port, data } = await ownServer({ paths: true });
const ROOT = join(import.meta.dirname, "../..");
const at = `http://localhost:${port}/p/fernhill`;
const folder = mkdtempSync(join(tmpdir(), "elkhorn-line-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Ran {
  readonly status: number | null;
  readonly out: string;
  readonly err: string;
}
async function elkhorn(args: readonly string[], env: Record<string, string> = {}): Promise<Ran> {
  const settings = { ELKHORN_FROM: folder, ELKHORN_DATA: data, ELKHORN_ADDRESS: `http://localhost:${port}`, ELKHORN_PORTAL_PATHS: "on" };
  const child = spawn(process.execPath, [join(ROOT, ".next/command-line/main.mjs"), ...args], {
    cwd: ROOT,
    env: { ...process.env, ...settings, ...env },
  });
  const [out, err, [status]] = await Promise.all([text(child.stdout), text(child.stderr), once(child, "exit") as Promise<[number | null]>]);
  return { status, out, err };
}
const file = (name: string, words: string): string => {
  writeFileSync(join(folder, name), words);
  return name;
};

/** A program that uses the client for everything, and ends with an error where an answer is not as it should be. */
const USES = `
import { client } from "./index.js";
const at = process.env.AT ?? "";
const portal = client(at, process.env.KEY);
const must = (yes: boolean, what: string): void => { if (!yes) throw new Error(what); };
const me = await portal.GET("/me");
must(me.response.status === 200 && (me.data?.roles.length ?? 0) > 0, "me");
const one = await portal.GET("/tables/details/records", { params: { query: { limit: 2 } } });
must(one.data?.records.length === 2 && one.data.nextCursor !== null, "list");
const two = await portal.GET("/tables/details/records", { params: { query: { limit: 2, cursor: one.data?.nextCursor ?? "" } } });
must(two.data?.records[0]?.id !== one.data?.records[0]?.id, "cursor");
const some = await portal.GET("/tables/details/records", { params: { query: { q: "zzz-nothing" } } });
must(some.data?.total === 0, "filter");
const made = await portal.POST("/tables/details/records", { body: { fields: { title: "By the client", load: 1.5 } } });
must(made.response.status === 201 && made.data?.fields.load === 1.5, "add " + JSON.stringify(made.error));
const wrong = await portal.POST("/tables/details/records", { body: { fields: { load: 1 } } });
must(wrong.error?.status === 422 && (wrong.error.errors?.length ?? 0) > 0, "add what is wrong");
const path = { id: made.data?.id ?? "" };
const read = await portal.GET("/tables/details/records/{id}", { params: { path } });
const etag = read.response.headers.get("etag") ?? "";
const changed = await portal.PATCH("/tables/details/records/{id}", { params: { path, header: { "If-Match": etag } }, body: { fields: { fixings: 4 } } });
must(changed.data?.fields.fixings === 4, "change " + JSON.stringify(changed.error));
const late = await portal.PATCH("/tables/details/records/{id}", { params: { path, header: { "If-Match": etag } }, body: { fields: { fixings: 5 } } });
must(late.response.status === 412 && late.error?.status === 412, "If-Match");
must((await portal.DELETE("/tables/details/records/{id}", { params: { path } })).response.status === 204, "remove");
must((await portal.GET("/tables/details/records/{id}", { params: { path } })).error?.type === "not-found", "removed");
const nobody = client(at);
must((await nobody.POST("/session", { body: { email: "ines@fernhill.example", password: "wrong" } })).response.status === 401, "a wrong password");
const entered = await nobody.POST("/session", { body: { email: "ines@fernhill.example", password: "ines-reads-every-sign" } });
must(entered.data?.person.email === "ines@fernhill.example", "sign in " + JSON.stringify(entered.error));
const cookie = entered.response.headers.getSetCookie().map((c) => c.split(";")[0]).join("; ");
const ines = client(at, undefined, { fetch: (asked) => { const r = new Request(asked as Request); r.headers.set("cookie", cookie); r.headers.set("origin", new URL(at).origin); return fetch(r); } });
must((await ines.GET("/me")).data?.person?.email === "ines@fernhill.example", "me, signed in");
must((await ines.DELETE("/session")).response.status === 204 && (await ines.GET("/me")).response.status === 401, "sign out");
console.log("all of it");
`;
const keys = { agency: "" };

describe("against a running portal", () => {
  let b: Browser;
  let key: string;
  const run = (...args: string[]): Promise<Ran> => elkhorn([...args, "--at", at], { ELKHORN_KEY: key });
  beforeAll(async () => {
    b = await openBrowser();
    await signInToOffice(b, port);
    await b.go(`http://localhost:${port}/portals/fernhill/connections/keys/new`);
    await b.type("#name", "Nightly");
    await b.choose("select[name=role]", "Lead");
    await b.choose("select[name=company]", "Saltmarsh Infirmary Group");
    await b.click("input[name=reach][value=all]");
    await b.press("Make the key");
    await b.seesText("it is shown this once");
    key = await b.attribute('input[aria-label="The key"]', "value");
    await b.go(`http://localhost:${port}/portals/library/connections/keys/new`);
    await b.type("#name", "Office");
    await b.choose("select[name=role]", "Editor");
    await b.click("input[name=reach][value=all]");
    await b.press("Make the key");
    await b.seesText("it is shown this once");
    keys.agency = await b.attribute('input[aria-label="The key"]', "value");
  }, 60_000);
  afterAll(() => b.close());

  it("takes out what the key's role sees, and not a record more", async () => {
    expect(await run("export", "documents", "--out", "documents.json", "--format", "json")).toMatchObject({ status: 0, err: "" });
    const { records } = JSON.parse(readFileSync(join(folder, "documents.json"), "utf8")) as { records: { id: string }[] };
    const dana = await signedIn(port, "dana@saltmarsh.example");
    const hers = ((await dana.api("/tables/documents/records?limit=200")).json.records as { id: string }[]).map((r) => r.id);
    expect(records.map((r) => r.id).sort()).toEqual(hers.sort());
    expect((await run("export", "invoices-of-others")).err).toContain("opens no table");
  });
  it("brings rows in, changes those that are known, says each line that is refused, and twice is once", async () => {
    const requests = file("requests.csv", "Subject,Kind,Urgency\nBy the line,Repair,Can wait\nAnother,Party,Can wait\n");
    const first = await run("import", "requests", requests);
    expect(first).toMatchObject({ status: 1, err: expect.stringMatching(/1 of 2 rows are in Requests[\s\S]*line 3: kind/) });
    const again = await run("import", "Requests", requests);
    expect(again.err).toContain("1 of 2 rows");
    const dana = await signedIn(port, "dana@saltmarsh.example");
    const found = (await dana.api("/tables/requests/records?q=By+the+line")).json.records as { id: string }[];
    expect(found.length).toBe(1);
    expect(JSON.parse((await run("link", "requests", found[0]!.id, "--json")).out)).toEqual({
      ok: true,
      address: `${at}/requests/${found[0]!.id}`,
    });
  });
  it("says what it cannot do: another company's record, the owner's work, a key that is none, a key in an argument", async () => {
    const maud = await signedIn(port, "maud@wexcombe.example");
    const theirs = ((await maud.api("/tables/requests/records?limit=1")).json.records as { id: string }[])[0]!.id;
    expect(await run("link", "requests", theirs)).toMatchObject({ status: 1, out: "" });
    expect((await run("publish")).err).toContain("the owner's");
    expect((await run("backup", "copies")).err).toContain("the owner's");
    const wrong = await elkhorn(["check", "--at", at], { ELKHORN_KEY: `${key}x` });
    expect([wrong.status, wrong.out]).toEqual([1, ""]);
    expect(await elkhorn(["check", "--at", at], { ELKHORN_KEY: "" })).toMatchObject({
      status: 2,
      err: expect.stringContaining("ELKHORN_KEY"),
    });
    expect((await run("check")).out).toContain("Lead");
  });
});

describe("the client that is made of a portal", () => {
  it("compiles under strict, and signs in, lists, goes on, filters, adds, changes, and removes as the portal says", async () => {
    const key = keys.agency;
    const at = `http://localhost:${port}/p/library`;
    expect(await elkhorn(["client", "elkhorn-client", "--at", at], { ELKHORN_KEY: key })).toMatchObject({ status: 0, err: "" });
    const made = join(ROOT, "node_modules/.cache/elkhorn-client");
    rmSync(made, { recursive: true, force: true });
    cpSync(join(folder, "elkhorn-client"), made, { recursive: true });
    writeFileSync(join(made, "uses.ts"), USES);
    const options = [
      "--ignoreConfig",
      "--strict",
      "--noUncheckedIndexedAccess",
      "--noEmit",
      "--skipLibCheck",
      "--module",
      "nodenext",
      "--target",
      "es2022",
      "--types",
      "node",
      "--typeRoots",
      join(ROOT, "node_modules/@types"),
    ];
    const compiled = spawn(join(ROOT, "node_modules/.bin/tsc"), [...options, join(made, "uses.ts")], { cwd: made });
    expect([await text(compiled.stdout), (await once(compiled, "exit"))[0]]).toEqual(["", 0]);
    const used = spawn(join(ROOT, "node_modules/.bin/tsx"), [join(made, "uses.ts")], { env: { ...process.env, AT: at, KEY: key } });
    const [out, err] = await Promise.all([text(used.stdout), text(used.stderr)]);
    rmSync(made, { recursive: true, force: true });
    expect([out, err]).toEqual(["all of it\n", ""]);
  });
});

describe("against the folder, while a server runs beside it", () => {
  const run = (...args: string[]): Promise<Ran> => elkhorn([...args, "--portal", "fernhill"]);
  it("brings a file in as an import does: whole or not at all", async () => {
    file("sites.csv", "Name,Company\nThe new annexe,Saltmarsh Infirmary Group\n");
    expect((await run("import", "sites", "sites.csv", "--by", "Name")).out).toBe("1 added, 0 changed, 0 the same in Sites.\n");
    expect((await run("import", "sites", "sites.csv", "--by", "Name")).out).toBe("0 added, 0 changed, 1 the same in Sites.\n");
    file("wrong.csv", "Name,Company\nOne,Saltmarsh Infirmary Group\nTwo,Nobody at all\n");
    expect(await run("import", "sites", "wrong.csv")).toMatchObject({ status: 1, err: expect.stringMatching(/so none did[\s\S]*line 3/) });
    file("strange.csv", "Name,Colour\nOne,Red\n");
    expect((await run("import", "sites", "strange.csv")).err).toContain("“Colour”");
    // The running portal has it at once.
    const dana = await signedIn(port, "dana@saltmarsh.example");
    expect((await dana.api("/tables/sites/records?q=annexe")).json.records.length).toBe(1);
  });
  it("checks, publishes, backs up; says what it does not understand", async () => {
    const checked = await run("check", "--json");
    expect([checked.status, JSON.parse(checked.out).ok]).toEqual([1, false]);
    expect((await run("publish")).out).toContain("has no draft");
    const kept = await elkhorn(["backup", "copies", "--json"]);
    const { folder: copy } = JSON.parse(kept.out) as { folder: string };
    expect(readdirSync(join(copy, "portals")).length).toBe(2);
    expect(statSync(join(copy, "elkhorn.db")).mode & 0o77).toBe(0);
    expect((await elkhorn(["export", "sites", "--portal", "fernhill", "--data", copy, "--out", "sites-then.csv"])).status).toBe(0);
    expect(readFileSync(join(folder, "sites-then.csv"), "utf8")).toContain("The new annexe");
    for (const args of [["never"], ["export"], ["export", "sites"], ["export", "sites", "--format", "pdf"], ["check", "--nothing"]])
      expect([args, (await elkhorn(args)).status]).toEqual([args, 2]);
  });
});
