import { describe, expect, it } from "vitest";
import type { Field, FieldType } from "../schema/types";
import { minorDigits, readCell, readDate, readMoney, readNumber, readYesNo } from "./cells";
import { readJson } from "./json";

const field = (type: FieldType, options: Field["options"] = {}): Field => ({
  id: "f",
  tableId: "t",
  slug: "f",
  name: "F",
  type,
  options,
  system: false,
});
const value = <T>(r: { ok: true; value: T } | { ok: false; error: string }): T | string => (r.ok ? r.value : `refused: ${r.error}`);

describe("numbers", () => {
  it.each([
    ["12", 12],
    [" 1,234.5 ", 1234.5],
    ["1.234,5", 1234.5],
    ["1 234,5", 1234.5],
    ["0,5", 0.5],
    ["-3", -3],
    ["1e3", 1000],
    ["12,345", 12345],
    [".5", 0.5],
  ])("%s is %d", (text, n) => expect(value(readNumber(text))).toBe(n));
  it.each(["", "two", "1,23,4", "12a", "0x10", "Infinity", "1e999", "--1", "1.2.3"])("%j is no number", (text) =>
    expect(readNumber(text).ok).toBe(false),
  );
});

describe("money, in minor units (digits of each currency: ISO 4217)", () => {
  it.each([
    ["£120.50", "GBP", 12050],
    ["GBP 18", "GBP", 1800],
    ["1.234,56 €", "EUR", 123456],
    ["(5.00)", "GBP", -500],
    ["-£3", "GBP", -300],
    ["¥1,200", "JPY", 1200],
    ["1.2345", "KWD", 1235],
    ["0.1", "GBP", 10],
    ["1.005", "GBP", 100],
  ])("%s in %s", (text, currency, minor) => expect(value(readMoney(text, currency))).toBe(minor));
  it("knows how many digits a currency has", () => expect(["GBP", "JPY", "KWD"].map(minorDigits)).toEqual([2, 0, 3]));
  it.each(["lots", "£", "99999999999999999"])("%s is refused", (text) => expect(readMoney(text, "GBP").ok).toBe(false));
});

describe("dates", () => {
  it.each([
    ["2026-02-28", "iso", "2026-02-28"],
    ["2026-2-8", "iso", "2026-02-08"],
    ["2026-02-28T00:00:00.000Z", "iso", "2026-02-28"],
    ["28/02/2026", "day-first", "2026-02-28"],
    ["2/28/2026", "month-first", "2026-02-28"],
    ["28.2.2026", "day-first", "2026-02-28"],
    ["29/02/2024", "day-first", "2024-02-29"],
  ] as const)("%s (%s)", (text, order, date) => expect(value(readDate(text, order))).toBe(date));
  it.each([
    ["2026-02-29", "iso"],
    ["2100-02-29", "iso"],
    ["31/04/2026", "day-first"],
    ["28/02/2026", "iso"],
    ["28/02/2026", "month-first"],
    ["2026-13-01", "iso"],
    ["yesterday", "iso"],
  ] as const)("%s (%s) is no date", (text, order) => expect(readDate(text, order).ok).toBe(false));
});

describe("cells by type", () => {
  it.each([
    ["yes", true],
    ["Y", true],
    ["1", true],
    ["No", false],
    ["off", false],
  ])("%s is %s", (text, wanted) => expect(value(readYesNo(text))).toBe(wanted));
  it("an empty cell is an empty value, whatever the type", () => {
    for (const type of ["text", "number", "money", "date", "yes-no", "choice", "relation"] as const) {
      expect(value(readCell(field(type), "  "))).toBeNull();
    }
    expect(value(readCell(field("choices"), ""))).toEqual([]);
  });
  it("choices are found without regard to case and refused by name", () => {
    const f = field("choice", { choices: ["Door", "Totem"] });
    expect(value(readCell(f, "door"))).toBe("Door");
    expect(value(readCell(f, "Window"))).toBe("refused: “Window” is not one of: Door, Totem.");
    expect(value(readCell(field("choices", { choices: ["a", "b"] }), "b; a"))).toEqual(["b", "a"]);
  });
  it("text is composed (NFC), freed of NUL, and bounded with a sentence", () => {
    expect(value(readCell(field("text"), "e\u0301a\u0000"))).toBe("éa");
    expect(value(readCell(field("text"), "x".repeat(1_000_000)))).toBe("refused: This is 1,000,000 characters long; at most 1,000 fit.");
    expect(value(readCell(field("long-text"), "x".repeat(50_000)))).toHaveLength(50_000);
  });
});

describe("values in JSON bodies", () => {
  it.each([
    ["text", {}, "a", "a"],
    ["text", {}, "", null],
    ["text", {}, null, null],
    ["number", {}, 1.5, 1.5],
    ["money", { currency: "GBP" }, { amount: 100, currency: "GBP" }, 100],
    ["date", {}, "2026-01-31", "2026-01-31"],
    ["yes-no", {}, false, false],
    ["choice", { choices: ["A"] }, "A", "A"],
    ["choices", { choices: ["A", "B"] }, ["B"], ["B"]],
    ["relation", { target: "t" }, "id-1", "id-1"],
    ["relation", { target: "t" }, { id: "id-1", label: "whatever" }, "id-1"],
    ["relations", { target: "t" }, ["a", { id: "b" }, "a"], ["a", "b"]],
    ["relations", { target: "t" }, null, []],
  ] as const)("%s %o takes %j", (type, options, given, wanted) =>
    expect(value(readJson(field(type, options as Field["options"]), given))).toEqual(wanted),
  );
  it.each([
    ["text", {}, 5],
    ["number", {}, "5"],
    ["number", {}, Number.NaN],
    ["money", { currency: "GBP" }, { amount: 1.5, currency: "GBP" }],
    ["money", { currency: "GBP" }, { amount: 1, currency: "EUR" }],
    ["date", {}, "2026-02-30"],
    ["yes-no", {}, "yes"],
    ["choice", { choices: ["A"] }, "C"],
    ["choices", { choices: ["A"] }, "A"],
    ["relation", { target: "t" }, 7],
    ["relations", { target: "t" }, [7]],
    ["text", {}, "x".repeat(1001)],
  ] as const)("%s %o refuses %j", (type, options, given) =>
    expect(readJson(field(type, options as Field["options"]), given).ok).toBe(false),
  );
});
