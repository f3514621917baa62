/** What a column says after it was given another type: the same whether SQLite casts it or each value is asked for. */
import { expect, it } from "vitest";
import { fieldBySlug } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import { TestPortal } from "@/testing/portal";
import { addTable } from "./change";
import { schemaOf } from "./read";
import { retype } from "./retype";

const p = new TestPortal([], () => []);
let made = 0;

/** The values of a column, as they are stored, and their keys, after each of the types it is given. */
function through(values: readonly (string | null)[], ...types: readonly ("text" | "number" | "long-text")[]): (string | number | null)[][] {
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
  const { id } = fieldBySlug(schemaOf(p.file).table(table), "x")!;
  const put = p.file.db.prepare(
    `INSERT INTO "${table}" (id, created_at, created_by, changed_at, changed_by, "${id}", "${id}_k") VALUES (?, '', '', '', '', ?, ?)`,
  );
  for (const [i, v] of values.entries()) put.run(`${slug}-${i}`, v, v === null ? null : fold(v));
  return types.map((type) => {
    const done = retype(p.file, p.owner, {
      field: id,
      type,
      options: { decimals: 0 },
      reading: {} as never,
      by: null,
      add: false,
      rest: "refuse",
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

it("keys are folded as everywhere, beyond ASCII too", () => {
  expect(through(["Harbour LIGHTS", "b"], "long-text")).toEqual([["Harbour LIGHTS", "b"]]);
  expect(through(["STRASSE", "Straße", "Ünal", "İzmir"], "long-text", "text")[1]).toEqual(["STRASSE", "Straße", "Ünal", "İzmir"]);
});
