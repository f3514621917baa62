import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { runs } from "@/testing/random";
import { contrast, inkOn, luminance, readableOn } from "./contrast";

describe("contrast (WCAG 2.2, definitions of relative luminance and contrast ratio)", () => {
  it("is 21 for black on white and 1 for a colour on itself", () => {
    expect(contrast("#000000", "#ffffff")).toBeCloseTo(21, 10);
    expect(contrast("#3366cc", "#3366cc")).toBe(1);
  });
  // Common values of web practice, from memory: #767676 is the lightest grey that passes 4.5 on white, #777777 fails.
  it("separates #767676 from #777777 at 4.5 on white", () => {
    expect(contrast("#767676", "#ffffff")).toBeGreaterThanOrEqual(4.5);
    expect(contrast("#777777", "#ffffff")).toBeLessThan(4.5);
  });
  it("gives pure channels their weights", () => {
    expect(luminance("#ff0000")).toBeCloseTo(0.2126, 4);
    expect(luminance("#00ff00")).toBeCloseTo(0.7152, 4);
    expect(luminance("#0000ff")).toBeCloseTo(0.0722, 4);
  });
});

const colour = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, "0")}`);

it("text on any brand colour, and any brand colour as text, reaches 4.5", () => {
  fc.assert(
    fc.property(colour, fc.constantFrom("#ffffff", "#faf7f0", "#14140f"), (c, ground) => {
      expect(contrast(inkOn(c), c)).toBeGreaterThanOrEqual(4.5);
      expect(contrast(readableOn(c, [ground]), ground)).toBeGreaterThanOrEqual(4.5);
    }),
    { numRuns: runs(3000) },
  );
});
