import { describe, expect, it } from "vitest";
import { fromJson } from "../../exchange/present";
import { decimalsOf, readDecimal, scale, unscale } from "../../text/decimal";
import { minorDigits } from "../../text/format";
import { type Field, type FieldType, kindOf } from "../types";
import { readDate } from "./date";
import { FIELD_TYPES } from "./index";
import { readMoney } from "./money";
import { readYesNo } from "./yes-no";

type Given = { decimals?: number; currency?: string; target?: string; choices?: (string | { id: string; name: string })[] };

/** Choices given as words have their words for ids. */
const field = (type: FieldType, { choices, ...given }: Given = {}): Field =>
  ({
    id: "f",
    tableId: "t",
    slug: "f",
    name: "F",
    type,
    options: kindOf({ type }).options({
      target: "t",
      ...given,
      ...(choices ? { choices: choices.map((c) => (typeof c === "string" ? { id: c, name: c } : c)) } : {}),
    }),
    system: false,
  }) as Field;
const readCell = (f: Field, ...texts: string[]) => kindOf(f).parse(texts, f);
const value = <T>(r: { ok: true; value: T } | { ok: false; error: string }): T | string => (r.ok ? r.value : `refused: ${r.error}`);

describe("numbers", () => {
  it.each([
    ["12", "12"],
    [" 1,234.5 ", "1234.5"],
    ["1.234,5", "1234.5"],
    ["1 234,5", "1234.5"],
    ["0,5", "0.5"],
    ["-3", "-3"],
    ["1e3", "1000"],
    ["1.25e-2", "0.0125"],
    ["12,345", "12345"],
    [".5", "0.5"],
    ["007.50", "7.5"],
  ])("%s is %s", (text, n) => expect(value(readDecimal(text))).toBe(n));
  it.each(["", "two", "1,23,4", "12a", "0x10", "Infinity", "1e9999", "--1", "1.2.3", "."])("%j is no number", (text) =>
    expect(readDecimal(text).ok).toBe(false),
  );
  it("are held as integers scaled by the field's decimals, never as floats", () => {
    const two = field("number", { decimals: 2 });
    // 0.1 + 0.2 is 0.30000000000000004 as a double (IEEE 754); scaled it is 30.
    expect([value(readCell(two, "0.1")), value(readCell(two, "0.2")), value(readCell(two, "0.3"))]).toEqual([10, 20, 30]);
    expect(value(readCell(two, "1.005"))).toBe("refused: “1.005” has more than 2 digits after the point.");
    expect(value(readCell(field("number", { decimals: 0 }), "1.5"))).toBe("refused: “1.5” is not a whole number.");
    expect(value(readCell(two, "99999999999999999"))).toContain("too large");
    expect(kindOf(two).toJson(1050, two)).toBe(10.5);
    expect(kindOf(two).texts(1050, two)).toEqual(["10.5"]);
    expect(value(fromJson(two, 1.15))).toBe(115); // 1.15 * 100 is 114.99999999999999 as a double
    expect([unscale(-5, 2), unscale(0, 0), unscale(123, 3), decimalsOf("1.25")]).toEqual(["-0.05", "0", "0.123", 2]);
    expect(scale("-0.005", 2, "round")).toEqual({ ok: true, value: -1 });
  });
  it("scaled and unscaled again are themselves", () => {
    for (const text of ["0", "-1", "12.5", "-0.01", "9007199254740.99"]) {
      const n = scale(text, 2);
      expect(n.ok && Number(unscale(n.value, 2))).toBe(Number(text));
    }
  });
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
    ["1.005", "GBP", 101], // half a penny is rounded away from nothing, exactly
  ])("%s in %s", (text, currency, minor) => expect(value(readMoney(text, currency))).toBe(minor));
  it("knows how many digits a currency has", () => expect(["GBP", "JPY", "KWD"].map(minorDigits)).toEqual([2, 0, 3]));
  it.each(["lots", "£", "99999999999999999", "1e3", "£2.5e2", "1E+05"])("%s is refused", (text) =>
    expect(readMoney(text, "GBP").ok).toBe(false),
  );
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
  it("a choice with a comma in it is one choice, in a form, a cell and a body alike", () => {
    const choices = [
      { id: "c_1", name: "Oak, oiled" },
      { id: "c_2", name: "Slate" },
    ];
    const [one, several] = [field("choice", { choices }), field("choices", { choices })];
    expect(value(readCell(one, "Oak, oiled"))).toBe("c_1");
    expect(value(readCell(several, "Oak, oiled", "Slate"))).toEqual(["c_1", "c_2"]);
    expect(value(readCell(several, "Oak, oiled; Slate"))).toEqual(["c_1", "c_2"]);
    expect(value(readCell(several, "Slate, oak, oiled"))).toBe("refused: “oak” is not one of: Oak, oiled, Slate.");
    expect(value(fromJson(several, ["Oak, oiled"]))).toEqual(["c_1"]);
    expect(kindOf(several).toJson(["c_1"], several)).toEqual(["Oak, oiled"]);
    expect(kindOf(several).cell(["c_1", "c_2"], several)).toBe("Oak, oiled; Slate");
  });
  it("rows hold a choice's id, so its words may change", () => {
    const before = field("choice", { choices: [{ id: "c_1", name: "Oak" }] });
    const after = field("choice", { choices: [{ id: "c_1", name: "European oak" }] });
    const stored = value(readCell(before, "oak"));
    expect(kindOf(after).words(stored as string, after, { locale: "en-GB", timeZone: "UTC" })).toBe("European oak");
    expect(value(fromJson(after, "c_1"))).toBe("c_1");
  });
  it("every type reads back what an editor shows of its values", () => {
    const values = { text: "a", "long-text": "b", number: 150, money: 12, date: "2026-01-31", "yes-no": true, choice: "A" } as const;
    for (const type of FIELD_TYPES) {
      const f = field(type, { choices: ["A", "B"], decimals: 2 });
      const v = type in values ? values[type as keyof typeof values] : type === "choices" ? ["A", "B"] : null;
      if (v !== null) expect([type, value(readCell(f, ...kindOf(f).texts(v, f)))]).toEqual([type, v]);
    }
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
    ["number", { decimals: 1 }, 1.5, 15],
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
    expect(value(fromJson(field(type, options as Given), given))).toEqual(wanted),
  );
  it.each([
    ["text", {}, 5],
    ["number", {}, "5"],
    ["number", { decimals: 0 }, 1.5],
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
  ] as const)("%s %o refuses %j", (type, options, given) => expect(fromJson(field(type, options as Given), given).ok).toBe(false));
});
