import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { runs } from "@/testing/random";
import { slugOf } from "../address/slug";
import { contrast } from "../brand/contrast";
import { brandTheme } from "../brand/theme";
import { type Field, type FieldType, kindOf } from "../schema/types";
import { withArticle } from "../text/article";
import { formatDate, formatMoney } from "../text/format";
import { recordJson, toCell, toWords } from "./present";
import { BYTE_ORDER_MARK, csvLines, unquoted } from "./write-csv";

const field = (type: FieldType, more: Partial<Field> = {}): Field =>
  ({
    id: type,
    tableId: "t",
    slug: type,
    name: type,
    type,
    options: kindOf({ type }).options({ currency: "GBP", target: "t" }),
    system: false,
    ...more,
  }) as Field;
const gb = { locale: "en-GB", timeZone: "Europe/London" };
const de = { locale: "de-DE", timeZone: "Europe/Berlin" };

describe("values as words, in the portal's locale", () => {
  it.each([
    ["money", 123456, "£1,234.56", "1.234,56 £"],
    ["number", 123450, "1,234.5", "1.234,5"],
    ["date", "2026-03-01", "1 Mar 2026", "1. März 2026"],
    ["yes-no", true, "Yes", "Yes"],
    ["choices", ["a", "b"], "a, b", "a, b"],
    ["relation", { id: "x", label: "North" }, "North", "North"],
    ["relation", { withheld: true }, "withheld", "withheld"],
    ["relations", [{ id: "x", label: "A" }, { withheld: true }], "A, withheld", "A, withheld"],
    ["text", null, "", ""],
  ] as const)("%s %j", (type, v, english, german) => {
    expect(toWords(field(type), v as never, gb)).toBe(english);
    expect(toWords(field(type), v as never, de).replaceAll("\u00a0", " ")).toBe(german);
  });
  it("a date is the same day everywhere, and money has its currency's digits", () => {
    expect(formatDate("2026-12-31", "en-GB")).toBe("31 Dec 2026");
    expect(formatMoney(1200, "JPY", "en-GB")).toBe("JP¥1,200");
  });
});

describe("values for programs and sheets", () => {
  it("JSON leaves out what is hidden and keeps what is empty", () => {
    const table = {
      id: "t",
      slug: "t",
      name: "T",
      singular: "T",
      kind: "ordinary" as const,
      labelFieldId: "text",
      fields: [field("text"), field("money"), field("number")],
    };
    expect(recordJson(table, { id: "1", fields: { money: 5, text: null } })).toEqual({
      id: "1",
      fields: { text: null, money: { amount: 5, currency: "GBP" } },
    });
  });
  it("cells keep numbers as numbers", () => {
    expect([
      toCell(field("money"), 1250),
      toCell(field("number"), -300),
      toCell(field("choices"), ["a", "b"]),
      toCell(field("text"), null),
    ]).toEqual([12.5, -3, "a; b", null]);
  });
});

describe("CSV out", () => {
  // OWASP, CSV Injection: cells beginning with = + - @ tab, return or line feed, and their full-width forms.
  const begins = ["=", "+", "-", "@", "\t", "\r", "\n", "\uff1d", "\uff0b", "\uff0d", "\uff20"];
  const ends = ["1+1", '1\r\n"second line"', "cmd|' /C calc'!A0\u2028x", "1\nx,y"];
  it.each(begins.flatMap((b) => ends.map((e) => b + e)))("%j is made harmless", (text) => {
    const [[cell]] = Papa.parse<string[]>(csvLines([[text]])).data as [[string]];
    expect(cell).toBe(`'${text}`);
  });
  it.each(["=1", "'=1", "''+", "'+", "'a", "''", "it's", "-"])("%j comes back as it was", (text) => {
    const [[cell]] = Papa.parse<string[]>(csvLines([[text, "x"]])).data as [[string]];
    expect(unquoted(cell)).toBe(text);
  });
  it("numbers stay numbers, also negative ones", () => expect(csvLines([[-5, 1.5, null, true]])).toBe("-5,1.5,,true\r\n"));
  it("comes back as it was through a general-purpose reader (papaparse), quotes, breaks and all", () => {
    const cell = fc.string().filter((s) => !/^'*[=+\-@\t\r\n]/.test(s) && !s.includes("\u0000"));
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 2, maxLength: 3 }), { minLength: 1, maxLength: 5 }), (rows) => {
        expect(Papa.parse<string[]>(csvLines(rows).slice(0, -2), { delimiter: ",", newline: "\r\n" }).data).toEqual(rows);
      }),
    );
  });
  it("begins with a byte order mark for spreadsheets", () => expect(BYTE_ORDER_MARK).toBe("\ufeff"));
});

describe("addresses and words", () => {
  it("slugs are readable, unique, and never empty", () => {
    const taken = new Set(["a-b", "a-b-2", "table"]);
    expect(slugOf("A & B".replace("&", ""), "table", (s) => taken.has(s))).toBe("a-b-3");
    expect(slugOf("!!!", "table", (s) => taken.has(s))).toBe("table-2");
    expect(slugOf("x".repeat(100), "table", () => false)).toHaveLength(40);
  });
  it("articles", () => expect(["Request", "Invoice", "Sign"].map(withArticle)).toEqual(["a request", "an invoice", "a sign"]));
});

it("a theme is readable on whatever two colours a brand has (WCAG 2.2, 1.4.3)", () => {
  const colour = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, "0")}`);
  fc.assert(
    fc.property(colour, fc.constantFrom("#ffffff", "#f7f7f4", "#faf8f3", "#101418", "#f3e9d2"), (c, ground) => {
      const theme = brandTheme({ colour: c, ground });
      const pairs = [
        ["--color-primary", "--color-base-100"],
        ["--color-primary-content", "--color-primary"],
        ["--color-base-content", "--color-base-200"],
        ["--brand-ink", "--brand"],
      ] as const;
      for (const [a, b] of pairs) expect(contrast(theme[a]!, theme[b]!)).toBeGreaterThanOrEqual(4.5);
    }),
    { numRuns: runs(500) },
  );
});
