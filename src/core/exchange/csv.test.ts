import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { runs } from "@/testing/random";
import { CsvReader, type Delimiter, guessDelimiter, MOST_CELL, MOST_CELLS, MOST_RECORD } from "./csv";

const read = (text: string, delimiter: Delimiter = ",", pieces = [text]) => {
  const r = new CsvReader(delimiter);
  const records = [...pieces.flatMap((p) => [...r.push(p)]), ...r.end()];
  return { rows: records.map((x) => x.cells), lines: records.map((x) => x.line), errors: r.errors };
};

describe("RFC 4180 section 2, its own examples", () => {
  it("1, 2: lines ended by CRLF, the last with or without", () => {
    expect(read("aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n").rows).toEqual([
      ["aaa", "bbb", "ccc"],
      ["zzz", "yyy", "xxx"],
    ]);
    expect(read("aaa,bbb,ccc\r\nzzz,yyy,xxx").rows).toEqual([
      ["aaa", "bbb", "ccc"],
      ["zzz", "yyy", "xxx"],
    ]);
  });
  it("5: quoted and unquoted fields", () =>
    expect(read('"aaa","bbb","ccc"\r\nzzz,yyy,xxx').rows).toEqual([
      ["aaa", "bbb", "ccc"],
      ["zzz", "yyy", "xxx"],
    ]));
  it("6: line breaks and commas inside quotes", () =>
    expect(read('"aaa","b\r\nbb","ccc"\r\nzzz,yyy,xxx')).toMatchObject({
      rows: [
        ["aaa", "b\r\nbb", "ccc"],
        ["zzz", "yyy", "xxx"],
      ],
      lines: [1, 3],
    }));
  it("7: a quote is escaped by another", () => expect(read('"aaa","b""bb","ccc"').rows).toEqual([["aaa", 'b"bb', "ccc"]]));
});

describe("files as they come", () => {
  it("drops a byte order mark", () => expect(read("\ufeffa,b").rows).toEqual([["a", "b"]]));
  it("says on which line a quote was left open", () =>
    expect(read('a,b\n1,2\n3,"4\n5,6\n').errors).toEqual([{ line: 3, code: "open-quote" }]));
  it("notes text after a closing quote", () => expect(read('"a"b,c\n').errors).toEqual([{ line: 1, code: "stray-quote" }]));
  it.each([
    ["a;b\n1;2\n", ";"],
    ["a\tb\n1\t2\n", "\t"],
    ['a,b\n"x;y;z",2\n', ","],
    ["a|b\n1|2", "|"],
    ["alone\n1\n", ","],
  ] as const)("guesses the delimiter of %j", (text, d) => expect(guessDelimiter(text)).toBe(d));
});

it("reads what a general-purpose library writes, however the text is cut (papaparse)", () => {
  const cell = fc.array(fc.constantFrom("a", "é", '"', ",", ";", "\n", "\r\n", " ", "😀"), { maxLength: 5 }).map((x) => x.join(""));
  const rows = fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 6 });
  fc.assert(
    fc.property(rows, fc.constantFrom(",", ";", "\t"), fc.nat(9), (data, d, cut) => {
      const text = Papa.unparse(data, { delimiter: d });
      const pieces = text.match(new RegExp(`[^]{1,${cut + 1}}`, "g")) ?? [];
      const { rows: found, errors } = read("", d as Delimiter, pieces);
      expect(errors).toEqual([]);
      expect(found).toEqual(data);
    }),
    { numRuns: runs(2000) },
  );
});

describe("files that would fill the memory", () => {
  const pieces = function* (n: number): Generator<string> {
    for (let i = 0; i < n; i++) yield "x".repeat(10_000);
  };
  it("of a cell without an end only the beginning is held, and it is told; what follows is read as ever", () => {
    const reader = new CsvReader(",");
    const records = [...reader.push('a,b\n1,"')];
    for (const p of pieces(100)) records.push(...reader.push(p));
    records.push(...reader.push('"\n2,"3"\n'), ...reader.end());
    expect(records.map((r) => [r.cells.map((c) => c.length), r.cut])).toEqual([
      [[1, 1], false],
      [[1, MOST_CELL], true],
      [[1, 1], false],
    ]);
  });
  it("nor is a record held whose cells are too many or too long together; a quote beyond that is read as before", () => {
    const reader = new CsvReader(",");
    const records = [...reader.push(`${",".repeat(1_000_000)}\n`)];
    for (let i = 0; i < 30; i++) records.push(...reader.push(`${"y".repeat(MOST_CELL / 2)},`));
    records.push(...reader.push('z"z\n"a,b",c\n'));
    expect(records.map((r) => r.cut)).toEqual([true, true, false]);
    expect(records[0]!.cells).toHaveLength(MOST_CELLS);
    expect(records[1]!.cells.join("").length).toBe(MOST_RECORD);
    expect(records[2]!.cells).toEqual(["a,b", "c"]);
    expect(reader.errors).toEqual([]);
  });
});
