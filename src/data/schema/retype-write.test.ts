/** What a column says after it was given another type: the same whether SQLite casts it or each value is asked for. */
import { expect, it } from "vitest";
import { fieldBySlug, kindOf } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { TestPortal } from "@/testing/portal";
import { addTable } from "../tables/change";
import { schemaOf } from "../tables/read";
import { retype } from "./retype";

const p = new TestPortal([], () => []);
let made = 0;
let latest = "";

/** The values of a column, as they are stored, and their keys, after each of the types it is given. */
function through(values: readonly (string | null)[], ...types: readonly Type[]): (string | number | null)[][] {
  return throughWith({ decimals: 0 }, values, types);
}
type Type = "text" | "number" | "long-text";

function throughWith(
  options: { decimals: number },
  values: readonly (string | null)[],
  types: readonly Type[],
): (string | number | null)[][] {
  const slug = `t${++made}`;
  const table = addTable(p.file, {
    slug,
    name: slug,
    singular: slug,
    fields: [
      { slug: "name", name: "Name", type: "text" },
      { slug: "x", name: "X", type: "text" },
    ],
  });
  latest = table;
  const { id } = fieldBySlug(schemaOf(p.file).table(table), "x")!;
  const put = p.file.db.prepare(
    `INSERT INTO "${table}" (id, created_at, created_by, changed_at, changed_by, "${id}", "${id}_k") VALUES (?, '', '', '', '', ?, ?)`,
  );
  for (const [i, v] of values.entries()) put.run(`${slug}-${i}`, v, v === null ? null : fold(v));
  return types.map((type) => {
    const done = retype(p.file, p.owner, {
      field: id,
      type,
      options,
      reading: {} as never,
      by: null,
      add: false,
      rest: "empty",
    });
    if (!done.ok) throw new Error(JSON.stringify(done.error));
    const stored = p.file.db.prepare(`SELECT "${id}" FROM "${table}" ORDER BY rowid`).pluck().all() as (string | number | null)[];
    if (type !== "number") {
      const keys = p.file.db.prepare(`SELECT "${id}_k" FROM "${table}" ORDER BY rowid`).pluck().all();
      expect(keys).toEqual(stored.map((v) => (v === null ? null : fold(String(v)))));
    }
    return stored;
  });
}

it("plain numbers and words go there and back; what is written otherwise is read as it always was", () => {
  expect(through(["1", "20", null, "-3", "0"], "number", "text")).toEqual([
    [1, 20, null, -3, 0],
    ["1", "20", null, "-3", "0"],
  ]);
  expect(through(["007", "8"], "number", "text")).toEqual([
    [7, 8],
    ["7", "8"],
  ]);
  expect(through(["1,914", "12"], "number")).toEqual([[1914, 12]]);
});

it("a column that says nothing may be of any type", () => {
  expect(through([null, null], "long-text", "number", "text")).toEqual(Array.from({ length: 3 }, () => [null, null]));
});

it("trying types to and fro does not widen the table, and what an earlier one said does not come back", () => {
  const values = Array.from({ length: 6_000 }, (_, i) => (i % 3 ? String(i) : null)); // more than are dropped at once
  through(values, "number", "text", "number", "text", "number");
  const columns = p.file.db.prepare("SELECT name FROM pragma_table_info(?)").pluck().all(latest) as string[];
  expect(columns.filter((c) => c.startsWith("gone_"))).toHaveLength(2);
});

it.each([0, 2, 6])("words become the numbers that reading each of them gives, with %i decimals", (decimals) => {
  const texts =
    "0 7 -7 -0 00 007 +5 1e3 12.5 1,234 123456789 1234567890123 123456789012345 999999999999999 9007199254740991 9007199254740993"
      .split(" ")
      .concat("99999999999999999999", "1 000", "five", "0x10", "١٢", "--1", "1-", ".5");
  for (const text of texts) {
    const read = kindOf({ type: "number" }).parse([text], { name: "", options: { decimals } } as never);
    // Beside another, so that each is turned alone and in company.
    expect(throughWith({ decimals }, [text, null], ["number"])[0], text).toEqual([read.ok ? read.value : null, null]);
    expect(throughWith({ decimals }, [text, "3"], ["number"])[0], text).toEqual([read.ok ? read.value : null, 3 * 10 ** decimals]);
  }
});

it("keys are folded as everywhere, beyond ASCII too", () => {
  expect(through(["Harbour LIGHTS", "b"], "long-text")).toEqual([["Harbour LIGHTS", "b"]]);
  expect(through(["STRASSE", "Straße", "Ünal", "İzmir"], "long-text", "text")[1]).toEqual(["STRASSE", "Straße", "Ünal", "İzmir"]);
});
