import { describe, expect, it } from "vitest";
import type { Field, FieldType } from "../schema/types";
import { kindOf } from "../schema/types";
import { MOST_OF_CELL, sheetCell, widthOf } from "./write-sheet";

const field = (type: FieldType, options: object = {}): Field =>
  ({ id: type, tableId: "t", slug: type, name: type, type, options: kindOf({ type }).options(options as never), system: false }) as Field;

describe("cells of a spreadsheet", () => {
  it("are typed: a date is a date, money has its currency's digits, yes/no is a boolean", () => {
    expect([
      sheetCell(field("date"), "2026-11-05"),
      sheetCell(field("money", { currency: "GBP" }), -125050),
      sheetCell(field("money", { currency: "JPY" }), 300),
      sheetCell(field("number", { decimals: 1 }), 125),
      sheetCell(field("percent", { decimals: 1 }), 125),
      sheetCell(field("yes-no"), false),
      sheetCell(field("text"), null),
    ]).toEqual([
      { value: new Date("2026-11-05T00:00:00Z"), type: "date", format: "d mmm yyyy" },
      { value: -1250.5, type: "number", format: '"£"#,##0.00' },
      { value: 300, type: "number", format: '"¥"#,##0' },
      { value: 12.5, type: "number", format: "0.0" },
      { value: 12.5, type: "number", format: '0.0"%"' },
      { value: false, type: "yes-no" },
      null,
    ]);
  });
  it("text stays text, whatever it begins with; signs that XML cannot write are left out", () => {
    expect(sheetCell(field("text"), "=1+1")).toEqual({ value: "=1+1", type: "text" });
    expect(sheetCell(field("text"), "a\u0001b\tc\nd\ufffe")).toEqual({ value: "ab\tc\nd", type: "text" });
  });
  // "Excel specifications and limits" (Microsoft): 32,767 characters in a cell. From memory.
  it("what is longer than a cell may be is cut, and says so; never between the halves of a character", () => {
    expect(sheetCell(field("long-text"), "x".repeat(MOST_OF_CELL))).toMatchObject({ value: "x".repeat(32_767) });
    for (const long of ["x".repeat(40_000), "😀".repeat(20_000), `x${"😀".repeat(20_000)}`]) {
      const { value } = sheetCell(field("long-text"), long) as { value: string };
      expect(value.length).toBeLessThanOrEqual(MOST_OF_CELL);
      expect(value).toMatch(/ … \(cut: the whole text has 4000[01] characters\)$/);
      expect(value.isWellFormed()).toBe(true);
    }
  });
  // The 1900 date system has a 29 February 1900 that never was (ISO/IEC 29500-1 section 18.17.4.1).
  it("a day before a spreadsheet's calendar is text", () =>
    expect([sheetCell(field("date"), "1900-02-28"), sheetCell(field("date"), "0001-01-01")]).toEqual([
      { value: "1900-02-28", type: "text" },
      { value: "0001-01-01", type: "text" },
    ]));
  it("columns are as wide as what is in them, within reason", () =>
    expect([widthOf("Id", 3), widthOf("A long name of a field", 3), widthOf("Note", 900)]).toEqual([12, 24, 60]));
});
