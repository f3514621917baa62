import fc from "fast-check";
import { expect, it } from "vitest";
import { runs } from "@/testing/random";
import { CORNERS, DENSITIES, FONTS, HEADS } from "../definition/parts/brand";
import { LOOKS } from "./looks";
import { tabMark } from "./mark";
import { brandTheme, readablePairs } from "./theme";

const hex = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, "0")}`);

it("whatever colours are chosen, and they may be the same: every pair reaches 4.5 (WCAG 2.2, success criterion 1.4.3)", () => {
  fc.assert(
    fc.property(hex, hex, fc.constantFrom(...HEADS), (colour, ground, head) => {
      for (const { words, ratio } of readablePairs({ colour, ground, head })) expect([words, ratio >= 4.5]).toEqual([words, true]);
    }),
    {
      numRuns: runs(2_000),
      examples: [
        ["#ffffff", "#ffffff", "band"],
        ["#000000", "#000000", "paper"],
        ["#808080", "#808080", "line"],
      ],
    },
  );
});
it("every choice of type, corners and room has its values", () => {
  for (const titles of FONTS)
    for (const corners of CORNERS)
      for (const density of DENSITIES) {
        const t = brandTheme({ colour: "#24507a", ground: "#ffffff", titles, text: titles, corners, density });
        expect(Object.entries(t).filter(([, v]) => v === undefined || v === "")).toEqual([]);
      }
});
it("no look is like another in colour, ground, or type with corners", () => {
  const of = (key: (s: (typeof LOOKS)[number]["settings"]) => string) => new Set(LOOKS.map((l) => key(l.settings))).size;
  expect([of((s) => s.colour), of((s) => s.ground), of((s) => `${s.titles} ${s.corners}`)]).toEqual([4, 4, 4]);
});
it("letters of the mark are letters, whatever they are", () => {
  expect(decodeURIComponent(tabMark({ colour: "#24507a", monogram: "<&>" }))).toContain(">&lt;&amp;&gt;</text>");
});
