/** E-mail, telephone, web address, moments, masks, bounds, and money that names its currency. */
import { describe, expect, it } from "vitest";
import { markOf } from "../../text/decimal";
import { fitsMask } from "../../text/mask";
import { instantOf, startOfDay, wallTime } from "../../time/zoned";
import { type Field, type FieldType, kindOf } from "../types";
import { serialNumber, serialText } from "./automatic";

const field = (type: FieldType, options: object = {}): Field =>
  ({
    id: "f",
    tableId: "t",
    slug: "f",
    name: "F",
    type,
    options: kindOf({ type }).options({ target: "t", ...options }),
    system: false,
  }) as Field;
const read = (f: Field, text: string, reading?: object) => {
  const r = kindOf(f).parse([text], f, reading);
  return r.ok ? r.value : `refused: ${r.error}`;
};

describe("addresses", () => {
  // The HTML Living Standard's pattern of a valid e-mail address, from memory; RFC 5321 section 4.5.3.1.3 for the length.
  it.each(["ada@x.example", "a.b+c@sub.x.example", "o'hara@x.example", "jürgen@bücher.example"])("%s is an e-mail address", (t) =>
    expect(read(field("email"), t)).toBe(t),
  );
  it.each(["ada", "ada@", "@x.example", "a b@x.example", "ada@x", "ada@x..example", `${"a".repeat(250)}@x.example`])("%s is none", (t) =>
    expect(read(field("email"), t)).toContain("refused"),
  );
  it.each([
    ["www.x.example", "https://www.x.example"],
    ["http://x.example/a?b=c", "http://x.example/a?b=c"],
    ["HTTPS://x.example", "HTTPS://x.example"],
  ])("%s is kept as %s", (text, kept) => expect(read(field("web-address"), text)).toBe(kept));
  it.each([
    "javascript:alert(1)",
    "data:text/html,x",
    "ftp://x.example",
    "https://user:pw@x.example",
    "https://x y.example",
    "nothing",
    "https://",
  ])("%s is no web address", (t) => expect(read(field("web-address"), t)).toContain("refused"));
  // Ofcom's numbers for drama use (from memory), and the examples of ITU-T E.123 section 2.
  it.each(["020 7946 0000", "+44 20 7946 0000", "+22 607 123 4567", "(0609) 123 4567", "020 7946 0000 ext 12"])(
    "%s stays as it is typed",
    (t) => expect(read(field("telephone"), t)).toBe(t),
  );
  it.each(["12", "call me", "1234567890123456789"])("%s is no telephone number", (t) =>
    expect(read(field("telephone"), t)).toContain("refused"),
  );
});

describe("moments", () => {
  const when = field("date-time");
  it("are instants, read by the portal's clock where they name no offset (RFC 3339 section 5.8 has the offsets)", () => {
    expect(read(when, "1996-12-19T16:39:57-08:00")).toBe("1996-12-20T00:39:57.000Z");
    expect(read(when, "1985-04-12T23:20:50Z")).toBe("1985-04-12T23:20:50.000Z");
    expect(read(when, "2026-06-15 12:30", { timeZone: "Europe/London" })).toBe("2026-06-15T11:30:00.000Z");
    expect(read(when, "15/06/2026 2:05 pm", { order: "day-first", timeZone: "UTC" })).toBe("2026-06-15T14:05:00.000Z");
    expect(read(when, "2026-06-15", { timeZone: "America/New_York" })).toBe("2026-06-15T04:00:00.000Z");
    expect(kindOf(when).texts("2026-06-15T11:30:00.000Z", when, "Europe/London")).toEqual(["2026-06-15T12:30"]);
  });
  it.each(["2026-06-31 10:00", "2026-06-15 24:00", "2026-06-15 10:60", "soon", "13/13/2026 10:00"])("%s is none", (t) =>
    expect(read(when, t, { order: "day-first" })).toContain("refused"),
  );
  it("around the turns of the clocks: a time that is skipped is moved on, one that is twice is the first", () => {
    // Europe/London 2026: forward on 29 March at 01:00 UTC, back on 25 October at 01:00 UTC (IANA time zone database).
    const at = (date: string, hours: number, minutes: number) => instantOf({ date, hours, minutes, seconds: 0 }, "Europe/London");
    expect(at("2026-03-29", 0, 59)).toBe("2026-03-29T00:59:00.000Z");
    expect(at("2026-03-29", 1, 30)).toBe("2026-03-29T01:30:00.000Z");
    expect(at("2026-03-29", 2, 0)).toBe("2026-03-29T01:00:00.000Z");
    expect(at("2026-10-25", 1, 30)).toBe("2026-10-25T00:30:00.000Z");
    expect([startOfDay("2026-03-29", "Europe/London"), startOfDay("2026-03-30", "Europe/London")]).toEqual([
      "2026-03-29T00:00:00.000Z",
      "2026-03-29T23:00:00.000Z",
    ]);
    expect(wallTime("2026-10-25T01:30:00.000Z", "Europe/London")).toBe("2026-10-25T01:30");
  });
  it.each([
    ["2026-03-29", 1, 30, 5],
    ["2000-02-29", 23, 59, 59],
    ["1899-12-31", 0, 0, 0],
  ])("UTC goes a shorter way, and to the same: %s", (date, hours, minutes, seconds) => {
    const wall = { date, hours, minutes, seconds };
    expect(instantOf(wall, "UTC")).toBe(instantOf(wall, "Etc/GMT"));
    expect(instantOf(wall, "UTC")).toBe(new Date(instantOf(wall, "UTC")).toISOString());
  });
});

describe("money names its currency, or is the field's", () => {
  const pounds = field("money", { currency: "GBP" });
  it.each([
    ["£1.25", 125],
    ["GBP 1,201.51", 120151],
    ["1.201,51", 120151],
    ["(£5.00)", -500],
    ["-£5", -500],
    ["£-5", -500],
    ["5 gbp", 500],
    ["\u22125", -500],
  ])("%s", (text, minor) => expect(read(pounds, text)).toBe(minor));
  it.each(["$1.25", "1.201,51 €", "EUR 5", "5 USD", "¥100", "kr 5"])("%s is refused, not changed", (t) =>
    expect(read(pounds, t)).toBe(`refused: “${t}” is in another currency: this field is in GBP.`),
  );
  it.each(["12 mm", "five", "1.2.3 £"])("%s is no amount", (t) => expect(read(pounds, t)).toContain("is not an amount of money"));
  it("a sign of several currencies is the field's where it may be", () => {
    expect(read(field("money", { currency: "CAD" }), "$5")).toBe(500);
    expect(read(field("money", { currency: "JPY" }), "¥500")).toBe(500);
    expect(read(field("money", { currency: "EUR" }), "1.234 €", { mark: "," })).toBe(123400);
  });
});

describe("bounds and shapes", () => {
  it("numbers within their least and most, in words of the field", () => {
    const f = field("number", { decimals: 1, least: 5, most: 100, unit: "mm" });
    expect([read(f, "0.5"), read(f, "10 mm"), read(f, "0.4"), read(f, "10.1")]).toEqual([
      5,
      100,
      "refused: It must be 0.5 at least.",
      "refused: It must be 10 at most.",
    ]);
    expect(kindOf(f).words(55, f, { locale: "en-GB", timeZone: "UTC" })).toBe("5.5\u00a0mm");
  });
  it("years without grouping", () => {
    const f = field("number", { decimals: 0, plain: true });
    expect(kindOf(f).words(1914, f, { locale: "en-GB", timeZone: "UTC" })).toBe("1914");
  });
  it("texts of a form and length, with the owner's own sentence", () => {
    const f = field("text", { mask: "AA-000*", maskSays: "Write it like AB-123.", longest: 8 });
    expect([read(f, "AB-123"), read(f, "AB-1234x"), read(f, "A1-123"), read(f, "AB-123456")]).toEqual([
      "AB-123",
      "AB-1234x",
      "refused: Write it like AB-123.",
      "refused: This is 9 characters long; at most 8 fit.",
    ]);
    expect([fitsMask("É9", "A0"), fitsMask("A", "\\A"), fitsMask("B", "\\A"), fitsMask("", ""), fitsMask("x", "")]).toEqual([
      true,
      true,
      false,
      true,
      false,
    ]);
  });
  it("numbers in order are recognised again", () => {
    expect([
      serialText(7, { prefix: "INV-", digits: 4 }),
      serialNumber("INV-0007", { prefix: "INV-" }),
      serialNumber("X7", { prefix: "INV-" }),
    ]).toEqual(["INV-0007", 7, null]);
  });
  it("which sign stands before decimals", () => {
    expect(["1.201,51", "1,201.51", "1.234", "0.234", "1.2", "1,23", "1.234.567", "12"].map(markOf)).toEqual([
      ",",
      ".",
      null,
      ".",
      ".",
      ",",
      ",",
      null,
    ]);
  });
});
