/** Older formats, what differs between two values, and two people's changes put together. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { z } from "zod";
import { differing, formatOf, keysOf, merged, migrated, type Part, thingsOf } from "./part";

const part: Part<object> = {
  name: "menu",
  shape: z.object({ items: z.array(z.object({ id: z.string(), name: z.string() })), title: z.string() }),
  migrations: [
    (old) => ({ ...old, title: old.heading }),
    ({ heading: _, ...old }) => ({ ...old, items: (old.items as string[]).map((name) => ({ id: name, name })) }),
  ],
  problems: () => [],
};

describe("a format", () => {
  it("is read from wherever it stands, and never from beyond what is known", () => {
    expect([formatOf(part as Part<never>), keysOf(part as Part<never>)]).toEqual([3, ["items", "title"]]);
    const first = { heading: "Where to", items: ["Home"] };
    const now = { title: "Where to", items: [{ id: "Home", name: "Home" }] };
    expect(migrated(part as Part<never>, first, 1)).toEqual(now);
    expect(migrated(part as Part<never>, { ...first, title: "Where to" }, 2)).toEqual(now);
    expect(migrated(part as Part<never>, now, 3)).toEqual(now);
    expect(first).toEqual({ heading: "Where to", items: ["Home"] });
    expect(() => migrated(part as Part<never>, now, 4)).toThrow("newer Elkhorn (format 4)");
  });
});

type Item = { id: string; name: string };
const items = fc.uniqueArray(fc.record({ id: fc.constantFrom("a", "b", "c", "d"), name: fc.constantFrom("x", "y") }), {
  selector: (i) => i.id,
});
const value = fc.record({
  items,
  title: fc.constantFrom("t", "u"),
  by: fc.dictionary(fc.constantFrom("k", "l"), fc.record({ n: fc.nat(2) })),
});
const ids = (v: { items: Item[] }): string[] => v.items.map((i) => i.id);

describe("what differs", () => {
  it("is nothing between a value and itself, and the same from either side", () => {
    fc.assert(
      fc.property(value, value, (a, b) => {
        expect(differing(a, structuredClone(a)).size).toBe(0);
        expect([...differing(a, b)].sort()).toEqual([...differing(b, a)].sort());
      }),
    );
  });
  it("names items by their ids and entries by their keys; an order differs only where what stays stands otherwise", () => {
    const was = { items: [{ id: "a" }, { id: "b" }, { id: "c" }], by: { k: { n: 1 } }, title: "t" };
    expect([...thingsOf(was).keys()]).toEqual(["items/a", "items/b", "items/c", "items in order", "by/k", "title"]);
    expect([...differing(was, { ...was, items: [{ id: "a" }, { id: "c" }] })]).toEqual(["items/b"]);
    expect([...differing(was, { ...was, items: [{ id: "c" }, { id: "a" }, { id: "b" }] })]).toEqual(["items in order"]);
    expect([...differing(was, { ...was, by: { k: { n: 2 }, l: { n: 1 } } })].sort()).toEqual(["by/k", "by/l"]);
  });
});

describe("two changes put together", () => {
  it("where one side changed nothing it is the other's", () => {
    fc.assert(
      fc.property(value, value, (base, other) => {
        expect(merged(base, base, other)).toEqual(other);
        const mine = merged(base, other, base) as typeof other;
        expect({ ...mine, items: ids(mine).sort() }).toEqual({ ...other, items: ids(other).sort() });
      }),
    );
  });
  it("holds what each side added, took away and changed", () => {
    const base = {
      items: [
        { id: "a", name: "x" },
        { id: "b", name: "x" },
        { id: "c", name: "x" },
      ],
      title: "t",
    };
    const mine = {
      items: [
        { id: "a", name: "mine" },
        { id: "c", name: "x" },
        { id: "m", name: "x" },
      ],
      title: "t",
    };
    const theirs = {
      items: [
        { id: "a", name: "x" },
        { id: "b", name: "x" },
        { id: "c", name: "theirs" },
        { id: "n", name: "x" },
      ],
      title: "u",
    };
    const both = merged(base, mine, theirs) as typeof base;
    expect(both.title).toBe("u");
    expect(Object.fromEntries(both.items.map((i) => [i.id, i.name]))).toEqual({ a: "mine", c: "theirs", m: "x", n: "x" });
  });
});
