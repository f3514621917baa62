/** The cases that a widely used collection has for readers of CSV (csv-spectrum 2.0.0), beside RFC 4180 in `csv.test.ts`. */
import { readdirSync, readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { dirname, join } from "node:path";
import { describe, expect, it } from "vitest";
import { minorDigits } from "../text/format";
import { CsvReader } from "./csv";

const require = createRequire(import.meta.url);
const folder = dirname(require.resolve("csv-spectrum"));

describe("csv-spectrum", () => {
  // The JSON beside one of them is of another file: it has a telephone number that the CSV has not.
  const sound = readdirSync(join(folder, "csvs")).filter((n) => n !== "location_coordinates.csv");
  it.each(sound)("%s", (name) => {
    const reader = new CsvReader(",");
    const records = [...reader.push(readFileSync(join(folder, "csvs", name), "utf8")), ...reader.end()].map((r) => r.cells);
    const [header, ...rows] = records.filter((r) => r.length > 1 || r[0] !== "");
    const read = rows.map((r) => Object.fromEntries(header!.map((h, i) => [h, r[i] ?? ""])));
    const said = JSON.parse(readFileSync(join(folder, "json", name.replace(/csv$/, "json")), "utf8")) as object;
    const wanted = Array.isArray(said) ? said : [said];
    // Line breaks within quotes stand as they are in the file; the collection's own reader turned them into one kind.
    const plain = (x: unknown): unknown => JSON.parse(JSON.stringify(x).replaceAll("\\r\\n", "\\n"));
    expect(plain(read)).toEqual(plain(wanted));
  });
});

it("digits after the point of all currencies are those of ISO 4217, as far as those have a minor unit", () => {
  // currency-codes 2.2.0, made from the list that the maintenance agency publishes.
  const { data } = require("currency-codes") as { data: { code: string; digits: number }[] };
  const known = new Set(Intl.supportedValuesOf("currency"));
  const differing = data.filter((c) => known.has(c.code) && minorDigits(c.code) !== c.digits).map((c) => c.code);
  // Units of account, which the standard gives no minor unit ("N.A.").
  expect(differing).toEqual(["XDR", "XSU"]);
  expect(["GBP", "JPY", "KWD", "EUR", "CLF"].map(minorDigits)).toEqual([2, 0, 3, 2, 4]);
});
