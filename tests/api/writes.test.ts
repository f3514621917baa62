/** Many writes together, writes that may be sent again, and the feed of changes; and what they do not open to others. */
import { beforeAll, describe, expect, it } from "vitest";
import { type Answer, Client, signedIn } from "../support/client";
import { Contract } from "../support/contract";
import { ownServer } from "../support/server";

const { port } = await ownServer();
const requests = "/api/v1/tables/requests";
let dana: Client;
let maud: Client;
let contract: Contract;

beforeAll(async () => {
  dana = await signedIn(port, "dana@saltmarsh.example");
  maud = await signedIn(port, "maud@wexcombe.example");
  contract = new Contract((await dana.api("/openapi.json")).json);
});

const fields = (subject: string) => ({ subject, kind: "Repair", urgency: "Can wait" });
const idsOf = async (c: Client): Promise<string[]> =>
  ((await c.api("/tables/requests/records?limit=200")).json.records as { id: string }[]).map((r) => r.id);
const bulk = (c: Client, body: unknown, headers: Record<string, string> = {}): Promise<Answer> =>
  c.call("POST", `${requests}/bulk`, { body, headers });
const statuses = (a: Answer): number[] => (a.json.results as { status: number }[]).map((x) => x.status);

describe("bulk", () => {
  it("a result each, as its document says: what is wrong stays out, the rest is in", async () => {
    const theirs = (await idsOf(maud))[0]!;
    const a = await bulk(dana, {
      writes: [
        { do: "add", fields: fields("One of two") },
        { do: "add", fields: { kind: "Party" } },
        { do: "change", id: theirs, fields: { subject: "Taken" } },
        { do: "remove", id: theirs },
        { do: "add", fields: fields("Two of two") },
      ],
    });
    expect([a.status, statuses(a)]).toEqual([200, [201, 422, 404, 404, 201]]);
    expect(contract.breaches("post", "/tables/requests/bulk", a)).toEqual([]);
    const mine = await idsOf(dana);
    for (const i of [0, 4]) expect(mine).toContain(a.json.results[i].id);
    expect(await idsOf(maud)).toContain(theirs);
    expect((await maud.api(`/tables/requests/records/${theirs}`)).json.fields.subject).not.toBe("Taken");
  });
  it("with `all` none stays where one is refused", async () => {
    const before = await idsOf(dana);
    const a = await bulk(dana, {
      all: true,
      writes: [
        { do: "add", fields: fields("Not kept") },
        { do: "add", fields: { kind: "Party" } },
      ],
    });
    expect([a.status, statuses(a)]).toEqual([422, [424, 422]]);
    expect(contract.breaches("post", "/tables/requests/bulk", a)).toEqual([]);
    expect((await idsOf(dana)).sort()).toEqual(before.sort());
  });
  it("a thousand at once; a thousand and one, an empty list and other bodies are refused", async () => {
    const ines = await signedIn(port, "ines@fernhill.example");
    const table = ((await ines.api("/tables")).json.tables as { slug: string; actions: string[] }[]).find((t) =>
      t.actions.includes("add"),
    )!;
    const at = `/api/v1/tables/${table.slug}/bulk`;
    const none = { do: "remove", id: "00000000-0000-7000-8000-000000000000" };
    const many = await ines.call("POST", at, { body: { writes: Array(1_000).fill(none) } });
    expect([many.status, many.json.results.length]).toEqual([200, 1_000]);
    for (const body of [
      { writes: Array(1_001).fill(none) },
      { writes: [] },
      [],
      { writes: [{ do: "drop", id: "x" }] },
      { writes: [{ do: "add" }] },
    ])
      expect((await ines.call("POST", at, { body })).status).toBe(422);
    const MB = 1024 * 1024;
    // Of one that is just short enough, what is wrong is that it is no JSON. A larger one is refused and told so, however much is on its way.
    const told = await Promise.all([10 * MB, 10 * MB + 1, 60 * MB].map((n) => ines.call("POST", at, { raw: "x".repeat(n) })));
    expect(told.map((a) => [a.status, a.json.status])).toEqual([400, 413, 413].map((s) => [s, s]));
  });
  it("answers nobody who is signed out, and knows no table that is not open", async () => {
    const nobody = new Client(port, "fernhill.localhost");
    expect((await bulk(nobody, { writes: [{ do: "add", fields: fields("x") }] })).status).toBe(401);
    expect((await dana.call("POST", "/api/v1/tables/never/bulk", { body: { writes: [{ do: "remove", id: "x" }] } })).status).toBe(404);
  });
});

describe("an Idempotency-Key", () => {
  const add = (c: Client, key: string, subject: string): Promise<Answer> =>
    c.call("POST", `${requests}/records`, { body: { fields: fields(subject) }, headers: { "idempotency-key": key } });

  it("does a write once, however often and however fast it is sent", async () => {
    const all = await Promise.all(Array.from({ length: 6 }, () => add(dana, "a-1", "Sent again")));
    expect(new Set(all.map((a) => `${a.status} ${a.text} ${a.headers.location}`)).size).toBe(1);
    expect(all.filter((a) => a.headers["idempotency-replayed"] === "true").length).toBe(5);
    const found = await dana.api(`/tables/requests/records?q=${encodeURIComponent("Sent again")}`);
    expect(found.json.total).toBe(1);
  });
  it("is refused with another request, and is nobody else's", async () => {
    await add(dana, "a-2", "The first");
    const other = await add(dana, "a-2", "Another");
    expect([other.status, other.json.type]).toEqual([422, "used-before"]);
    const hers = await add(maud, "a-2", "The first");
    expect([hers.status, hers.headers["idempotency-replayed"]]).toEqual([201, undefined]);
    for (const key of ["", "ü", "x".repeat(256)]) expect((await add(dana, key, "x")).status).toBe(400);
  });
  it("keeps no refusal: mended, it goes through", async () => {
    const wrong = await dana.call("POST", `${requests}/records`, {
      body: { fields: { kind: "Party" } },
      headers: { "idempotency-key": "a-3" },
    });
    expect(wrong.status).toBe(422);
    expect((await add(dana, "a-3", "Mended")).status).toBe(201);
  });
  it("covers changing, removing and many together", async () => {
    const both = await Promise.all(
      [1, 2].map(() => bulk(dana, { writes: [{ do: "add", fields: fields("Once in bulk") }] }, { "idempotency-key": "a-4" })),
    );
    expect(both[0]!.text).toBe(both[1]!.text);
    const ines = await signedIn(port, "ines@fernhill.example");
    const id = both[0]!.json.results[0].id as string;
    const change = () =>
      ines.call("PATCH", `${requests}/records/${id}`, { body: { fields: { subject: "Changed" } }, headers: { "idempotency-key": "a-5" } });
    const [first, second] = [await change(), await change()];
    expect([first.status, second.status, second.headers.etag]).toEqual([200, 200, first.headers.etag]);
  });
});

describe("the feed of changes", () => {
  const since = async (c: Client, cursor?: string): Promise<Answer> => {
    const a = await c.api(`/tables/requests/changes${cursor === undefined ? "" : `?since=${encodeURIComponent(cursor)}`}`);
    expect(contract.breaches("get", "/tables/requests/changes", a)).toEqual([]);
    return a;
  };
  it("tells what changed since, each record once, and nothing of another company", async () => {
    const begin = (await since(dana)).json.next as string;
    await maud.call("POST", `${requests}/records`, { body: { fields: fields("A secret of Wexcombe") } });
    const added = await dana.call("POST", `${requests}/records`, { body: { fields: fields("Seen by the feed") } });
    const a = await since(dana, begin);
    expect(a.json.changes).toEqual([
      { kind: "record", id: added.json.id, fields: expect.objectContaining({ subject: "Seen by the feed" }) },
    ]);
    expect((await since(dana, a.json.next)).json.changes).toEqual([]);
  });
  it("a cursor is its viewer's and its table's alone, and says nothing of how much happens", async () => {
    const { next } = (await since(dana)).json as { next: string };
    expect(Buffer.from(next, "base64url").toString()).not.toMatch(/event|\d{3}/);
    for (const [c, path] of [
      [maud, "requests"],
      [dana, "proofs"],
    ] as const)
      expect((await c.api(`/tables/${path}/changes?since=${encodeURIComponent(next)}`)).status).toBe(422);
    expect((await since(dana, "guess")).status).toBe(422);
    expect((await new Client(port, "fernhill.localhost").api("/tables/requests/changes")).status).toBe(401);
  });
});
