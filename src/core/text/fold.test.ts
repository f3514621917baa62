import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { compareCodePoints, fold } from "./fold";

describe("fold", () => {
  // Source: Unicode CaseFolding.txt, lines with status C and S (from memory).
  it.each([
    ["ÉCLAIR", "éclair"],
    ["ΣΑΣ", "σασ"],
    ["ς", "σ"],
    ["\u212A", "k"], // KELVIN SIGN
    ["ſ", "s"],
    ["Ꭰ", "Ꭰ"], // Cherokee folds towards its capitals; only the class matters here
    ["İ", "İ"], // status T and F only: unchanged in simple folding
    ["ß", "ß"],
    ["ẞ", "ß"],
    ["𐐀", "𐐨"],
  ])("%s folds to %s", (a, b) => expect(fold(a)).toBe(fold(b)));

  it("agrees with the engine's own simple folding on every cased code point (ECMA-262, Canonicalize with u)", () => {
    for (let cp = 0; cp < 0x1e944; cp++) {
      if (cp >= 0xd800 && cp <= 0xdfff) continue;
      const c = String.fromCodePoint(cp);
      const pattern = `\\u{${cp.toString(16)}}`;
      for (const other of new Set([c.toLowerCase(), c.toUpperCase(), c.toUpperCase().toLowerCase()])) {
        if ([...other].length !== 1 || other === c) continue;
        const same = new RegExp(`^${pattern}$`, "iu").test(other);
        if ((fold(c) === fold(other)) !== same) throw new Error(`U+${cp.toString(16)} and ${other} should ${same ? "" : "not "}fold alike`);
      }
    }
  });

  it("is idempotent and keeps the number of code points", () => {
    fc.assert(fc.property(fc.string({ unit: "binary" }), (s) => fold(fold(s)) === fold(s) && [...fold(s)].length === [...s].length));
  });
});

describe("compareCodePoints", () => {
  it("orders as UTF-8 bytes do (SQLite, BINARY collation: memcmp)", () => {
    const text = fc.string({ unit: "binary" });
    fc.assert(
      fc.property(text, text, (a, b) => Math.sign(compareCodePoints(a, b)) === Math.sign(Buffer.compare(Buffer.from(a), Buffer.from(b)))),
    );
  });
});
