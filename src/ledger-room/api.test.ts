/** The Ledger Room's API as its own document tells it: pages and marks, conditions, keys of once, and what goes wrong on request. */
import { beforeEach, describe, expect, it } from "vitest";
import { type Asked, answerApi, type Said } from "./api";
import { addKey, type Faults, type Ledger, openLedger, putItem, removeItem } from "./store";

const NOW = Date.UTC(2026, 0, 5);
let db: Ledger;
let key: string;
beforeEach(() => {
  db = openLedger(":memory:");
  key = addKey(db, "Test");
});

const ask = (method: string, path: string, more: Partial<Pick<Asked, "headers" | "body">> = {}, faults: Faults = {}): Said =>
  answerApi(
    db,
    {
      method,
      url: new URL(path, "http://ledger.example"),
      body: "",
      ...more,
      headers: { authorization: `Bearer ${key}`, ...more.headers },
    },
    faults,
    NOW,
  );
interface List {
  items: { id: string; title?: string; removed?: true }[];
  after: string | null;
  mark: string;
  total: number;
}
const list = (query = "", faults: Faults = {}): List => ask("GET", `/v1/deals${query}`, {}, faults).said as List;
const fill = (n: number): void => {
  for (let i = 0; i < n; i++) putItem(db, "deals", null, { title: `Deal ${i}`, stage: i % 2 ? "Won" : "Asked" }, NOW);
};
const make = (once: string, title: string): Said =>
  ask("POST", "/v1/deals", { body: JSON.stringify({ title }), headers: { "idempotency-key": once } });

describe("a list", () => {
  it("comes in pages that together are all of it, each with the same count", () => {
    fill(7);
    const pages: List[] = [];
    for (let after: string | null = ""; after !== null; after = pages.at(-1)!.after)
      pages.push(list(`?limit=3${after && `&after=${after}`}`));
    expect(pages.map((p) => [p.items.length, p.total])).toEqual([
      [3, 7],
      [3, 7],
      [1, 7],
    ]);
    expect(new Set(pages.flatMap((p) => p.items.map((i) => i.id))).size).toBe(7);
  });
  it("counts anew once anything was added, removed, or narrowed otherwise", () => {
    fill(4);
    const [first] = list().items;
    expect([list().total, list("?where=stage&is=Won").total, list("?where=stage&is=Won&is=Asked").total]).toEqual([4, 2, 4]);
    fill(1);
    expect(list().total).toBe(5);
    removeItem(db, "deals", first!.id, NOW);
    expect([list().total, list("?since=0").total]).toEqual([4, 5]);
    expect((ask("GET", "/v1/tickets").said as List).total).toBe(0);
  });
  it("since a mark has what changed after it, and says what is gone", () => {
    fill(3);
    const { mark, items } = list();
    expect(list(`?since=${mark}`)).toMatchObject({ items: [], total: 0 });
    putItem(db, "deals", items[1]!.id, { title: "Renamed" }, NOW);
    removeItem(db, "deals", items[2]!.id, NOW);
    const changed = list(`?since=${mark}`);
    expect(changed.items).toEqual([expect.objectContaining({ id: items[1]!.id, title: "Renamed" }), { id: items[2]!.id, removed: true }]);
    expect(list(`?since=${changed.mark}`).items).toEqual([]);
  });
  it("is refused with marks that are none, too many at once, or a column that there is not", () => {
    for (const q of ["?after=x", "?since=-1", "?limit=0", "?limit=501", "?limit=2.5", "?where=colour&is=red"])
      expect([q, ask("GET", `/v1/deals${q}`).status]).toEqual([q, 422]);
    expect([ask("GET", "/v1/robots").status, ask("GET", "/v2").status, ask("PUT", "/v1/deals").status]).toEqual([404, 404, 405]);
  });
});

describe("one record", () => {
  it("is made once for a key of once, and refused without one", () => {
    const [first, again] = [make("k-1", "Once"), make("k-1", "Twice")];
    expect([first.status, again.said]).toEqual([201, first.said]);
    expect(list().items.map((i) => i.title)).toEqual(["Once"]);
    expect(ask("POST", "/v1/deals", { body: JSON.stringify({ title: "None" }) }).status).toBe(400);
    expect(list().total).toBe(1);
  });
  it("is changed only as it was seen (RFC 9110 section 13.1.1), column by column", () => {
    const { id } = make("k-1", "As it was").said as { id: string };
    const at = `/v1/deals/${id}`;
    const seen = ask("GET", at).headers!.etag!;
    const patch = (stage: string) => ask("PATCH", at, { body: JSON.stringify({ stage }), headers: { "if-match": seen } });
    expect([patch("Won").status, patch("Lost").status]).toEqual([200, 412]);
    expect(ask("GET", at).said).toMatchObject({ title: "As it was", stage: "Won", version: 2 });
  });
  it("is gone for good once it is removed, which is told apart from one that never was", () => {
    const { id } = make("k-1", "Short").said as { id: string };
    expect([ask("DELETE", `/v1/deals/${id}`).status, ask("GET", `/v1/deals/${id}`).status]).toEqual([204, 410]);
    expect(ask("GET", "/v1/deals/DE-9999").status).toBe(404);
    expect((make("k-2", "Next").said as { id: string }).id).not.toBe(id);
  });
  it("keeps out what is no record, no column or no value of one, and changes nothing then", () => {
    const bodies = ["", "[]", "{", '{"colour":"red"}', '{"title":5}', '{"worth":"a lot"}', '{"closes":"soon"}'];
    for (const body of bodies) {
      const said = ask("POST", "/v1/deals", { body, headers: { "idempotency-key": "k" } });
      expect([body, said.status]).toEqual([body, 422]);
    }
    expect(list().total).toBe(0);
  });
});

describe("what goes wrong", () => {
  it("nobody reads or writes without a key, or with another's", () => {
    for (const authorization of ["", "Bearer ", "Bearer ledger_wrong", `Basic ${key}`])
      for (const [method, path] of [
        ["GET", "/v1"],
        ["GET", "/v1/deals"],
        ["POST", "/v1/deals"],
        ["DELETE", "/v1/deals/DE-0001"],
      ] as const)
        expect(ask(method, path, { headers: { authorization } }).status).toBe(401);
  });
  it("only on request: refused, rationed, repeated, left out, renamed", () => {
    fill(4);
    expect(ask("GET", "/v1/deals", {}, { status: 429 })).toMatchObject({ status: 429, headers: { "retry-after": "2" } });
    expect(ask("GET", "/v1/deals", {}, { status: 503 }).headers).toBeUndefined();
    const rationed = [1, 2, 3, 4].map(() => ask("GET", "/v1/deals", {}, { rations: true }).status);
    expect(rationed.filter((s) => s === 429)).toHaveLength(2);
    expect(list("", { repeats: true }).items).toHaveLength(8);
    expect(list("?limit=2", { skips: true })).toMatchObject({ items: [{}], total: 4 });
    expect(Object.keys(list("", { renames: true }).items[0]!)).toContain("title_2");
  });
});
