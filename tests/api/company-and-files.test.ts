/** A company's people, plans and files through the HTTP API; and what they do not open to other companies, lesser roles and visitors. */
import { beforeAll, describe, expect, it } from "vitest";
import { type Answer, Client, signedIn } from "../support/client";
import { Contract } from "../support/contract";
import { ownServer } from "../support/server";

const { port } = await ownServer();
let dana: Client; // leads Saltmarsh
let piers: Client; // of the same company, and no lead
let maud: Client; // of another
let ines: Client; // of the agency
let contract: Contract;
const visitor = new Client(port, "fernhill.localhost");

beforeAll(async () => {
  [dana, piers, maud, ines] = (await Promise.all(
    ["dana@saltmarsh.example", "piers@saltmarsh.example", "maud@wexcombe.example", "ines@fernhill.example"].map((e) => signedIn(port, e)),
  )) as [Client, Client, Client, Client];
  contract = new Contract((await dana.api("/openapi.json")).json);
});
const send = (c: Client, method: string, path: string, body?: unknown): Promise<Answer> =>
  c.call(method, `/api/v1${path}`, body === undefined ? {} : { body });

describe("the people of a company", () => {
  interface Colleague {
    membership: string;
    email: string;
    yours: boolean;
    roles: { id: string; name: string }[];
  }
  const people = async (c: Client): Promise<Colleague[]> => (await c.api("/company")).json.people;
  it("are told to who leads it, and to nobody else", async () => {
    const a = await dana.api("/company");
    expect([a.status, contract.breaches("get", "/company", a)]).toEqual([200, []]);
    expect(a.json.people.map((p: Colleague) => p.email)).toContain("piers@saltmarsh.example");
    for (const email of a.json.people.map((p: Colleague) => p.email) as string[]) expect(email).not.toMatch(/wexcombe|fernhill/);
    for (const [who, status] of [
      [piers, 404],
      [ines, 404],
      [visitor, 401],
    ] as const)
      expect((await who.api("/company")).status).toBe(status);
  });
  it("are invited, changed and taken out by their lead; bad input is told; not by others, and not those of others", async () => {
    const role = ((await dana.api("/company")).json.gives as { id: string }[])[0]!.id;
    const fresh = { name: "Wren Alder", email: "wren@saltmarsh.example", role };
    for (const [who, status] of [
      [piers, 404],
      [visitor, 401],
    ] as const)
      expect((await send(who, "POST", "/company/people", fresh)).status).toBe(status);
    const wrong = await send(dana, "POST", "/company/people", { ...fresh, email: "no address" });
    expect([wrong.status, wrong.json.errors[0].field, contract.breaches("post", "/company/people", wrong)]).toEqual([422, "email", []]);
    expect((await send(dana, "POST", "/company/people", { ...fresh, role: "r_owner" })).status).toBe(422);
    const done = await send(dana, "POST", "/company/people", fresh);
    expect([done.status, contract.breaches("post", "/company/people", done)]).toEqual([204, []]);
    const wren = (await people(dana)).find((p) => p.email === fresh.email)!;
    expect(wren).toMatchObject({ yours: true, roles: [{ id: role }] });
    const at = `/company/people/${wren.membership}`;
    for (const [who, status] of [
      [maud, 404],
      [piers, 404],
      [visitor, 401],
    ] as const) {
      expect((await send(who, "PATCH", at, { roles: [] })).status).toBe(status);
      expect((await send(who, "DELETE", at)).status).toBe(status);
    }
    // Nor may a lead touch themselves, or somebody of another company.
    const own = (await people(dana)).find((p) => p.email === "dana@saltmarsh.example")!;
    expect((await send(dana, "DELETE", `/company/people/${own.membership}`)).status).toBe(404);
    const out = await send(dana, "DELETE", at);
    expect([out.status, contract.breaches("delete", "/company/people/{membership}", out)]).toEqual([204, []]);
    expect((await people(dana)).some((p) => p.email === fresh.email)).toBe(false);
  });
});

describe("an export that is made while nobody waits", () => {
  const ask = (c: Client, more = ""): Promise<Answer> =>
    c.call("GET", `/api/v1/tables/documents/export?format=json${more}`, { headers: { prefer: "wait=5, Respond-Async;x=1" } });
  const ready = async (c: Client, at: string): Promise<Answer> => {
    await expect.poll(async () => (await c.get(at)).json.state, { timeout: 20_000 }).toBe("done");
    return c.get(at);
  };
  it("is answered at once, asked after, and had: what one would have had by waiting, and not a record more", async () => {
    const a = await ask(dana);
    expect([a.status, a.headers["preference-applied"], contract.breaches("get", "/tables/documents/export", a)]).toEqual([
      202,
      "respond-async",
      [],
    ]);
    const at = new URL(String(a.headers.location), "http://portal.example").pathname;
    const state = await ready(dana, at);
    expect(contract.breaches("get", "/exports/{export}", state)).toEqual([]);
    const file = await dana.get(`${at}/file`);
    expect(file.headers["content-disposition"]).toContain("documents.json");
    expect([file.text, file.text.length > 20]).toEqual([(await dana.api("/tables/documents/export?format=json")).text, true]);
    // Another of the same company, of another, of the agency, and nobody.
    for (const who of [piers, maud, ines, visitor])
      for (const [method, path] of [
        ["GET", at],
        ["GET", `${at}/file`],
        ["DELETE", at],
      ] as const)
        expect((await who.call(method, path)).status).toBe(404);
    const gone = await dana.call("DELETE", at);
    expect([gone.status, (await dana.get(`${at}/file`)).status]).toEqual([204, 404]);
  });
  it("is refused as it would be by waiting; and a few at a time", async () => {
    expect((await ask(visitor)).status).toBe(401);
    expect((await ask(dana, "&sort=never")).status).toBe(404);
    const many = [];
    for (let i = 0; i < 11; i++) many.push(await ask(maud));
    expect(many.map((m) => m.status)).toEqual([...Array(10).fill(202), 429]);
  });
});

it("plans are told as they are offered, with what the company has; a visitor has nothing", async () => {
  const a = await dana.api("/plans");
  expect([a.status, contract.breaches("get", "/plans", a)]).toEqual([200, []]);
  expect(a.json.standing).toMatchObject({ state: "active" });
  expect(a.json.plans.length).toBeGreaterThan(0);
  const other = await maud.api("/plans");
  expect(other.json.standing.plan).not.toBe(a.json.standing.plan);
  expect((await visitor.api("/plans")).json.standing).toBeNull();
});

describe("files", () => {
  const words = Buffer.from("The plan of the north stair.\n");
  const post = (c: Client, q: string, raw: Buffer = words): Promise<Answer> =>
    c.call("POST", `/api/v1/files?${q}`, { raw, headers: { "content-type": "application/octet-stream" } });
  it("are sent, taken by a record, and had back by those who see it, whole and in part; by nobody else", async () => {
    const sent = await post(ines, "table=documents&field=file&name=stair.txt");
    expect([sent.status, sent.json.bytes, contract.breaches("post", "/files", sent)]).toEqual([201, words.length, []]);
    // Larger than any other body may be.
    const large = await post(ines, "table=documents&field=file&name=large.txt", Buffer.alloc(6_000_000, "The plan. "));
    expect([large.status, large.json.bytes]).toEqual([201, 6_000_000]);
    // It is its sender's alone: nobody else puts it into a record of theirs.
    const theirs = (await dana.api("/tables/documents/records?limit=1")).json.records[0];
    expect((await send(dana, "PATCH", `/tables/documents/records/${theirs.id}`, { fields: { file: [sent.json.id] } })).status).not.toBe(
      200,
    );
    const done = await send(ines, "PATCH", `/tables/documents/records/${theirs.id}`, { fields: { file: [sent.json.id] } });
    expect(done.status).toBe(200);
    const { href } = (await ines.api(`/tables/documents/records/${theirs.id}`)).json.fields.file[0];
    const at = href.replace("/-/", "/");
    for (const c of [ines, dana]) expect((await c.api(at)).text).toBe(words.toString());
    const part = await dana.call("GET", `/api/v1${at}`, { headers: { range: "bytes=0-7" } });
    expect([part.status, part.text]).toEqual([206, "The plan"]);
    for (const c of [maud, visitor]) {
      const a = await c.api(at);
      expect([a.status, a.headers["content-type"]]).toEqual([404, "application/problem+json"]);
    }
  });
  it("are refused where a field takes none, is none, or may not be set", async () => {
    for (const [who, q] of [
      [maud, "table=documents&field=file"],
      [visitor, "table=documents&field=file"],
      [ines, "table=documents&field=title"],
      [ines, "table=never&field=file"],
    ] as const)
      expect((await post(who, q)).status).toBe(404);
    expect((await post(ines, "table=documents&field=file", Buffer.alloc(0))).status).toBe(422);
    expect((await ines.api("/files")).status).toBe(405);
  });
});

it("the reference shows each reader what is open to them, with examples of their own records", async () => {
  const page = await dana.get("/-/reference");
  const other = await maud.get("/-/reference");
  expect([page.status, other.status]).toEqual([200, 200]);
  for (const { slug } of (await dana.api("/tables")).json.tables as { slug: string }[]) expect(page.text).toContain(`id="${slug}"`);
  const first = (await dana.api("/tables/sites/records?limit=1")).json.records[0];
  expect([page.text.includes(first.id), other.text.includes(first.id)]).toEqual([true, false]);
});
