import { expect, it } from "vitest";
import { plainName } from "../../joining/joining";
import { cleanLine } from "./text";

it("a text of one line has no breaks, no other controls and nothing that turns the direction of writing", () => {
  for (const [given, kept] of [
    ["Sign\nN1\tof\r\nHall", "Sign N1 of Hall"],
    ["a\u2028b\u2029c\u0085d", "a b c d"],
    // What reads as "invoice-fdp.exe" is shown as what it is: Unicode TR 36, section 2.5.1.
    ["invoice-\u202efdp.exe", "invoice-fdp.exe"],
    ["\u2066left\u2069 \u200eright\u200f\u061c", "left right"],
    ["  Zoë  ", "Zoë"],
    ["שלום", "שלום"],
    ["👩‍🔧", "👩‍🔧"], // a joiner that letters and pictures need stays
  ])
    expect([given, cleanLine(given!)]).toEqual([given, kept]);
  expect(plainName("Wren\u202e Alder")).toBe("Wren Alder");
});
