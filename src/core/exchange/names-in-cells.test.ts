import { expect, it } from "vitest";
import { namedIn } from "./names-in-cells";

it("a name with a comma is one name, known or not; commas part what is known, semicolons everything", () => {
  const known = (t: string): boolean => ["Ash", "Birch", "Moss, Hale & Co"].includes(t);
  for (const [cell, names] of [
    ["Hale, Moss & Co", ["Hale, Moss & Co"]],
    ["Moss, Hale & Co", ["Moss, Hale & Co"]],
    ["Ash, Birch", ["Ash", "Birch"]],
    ["Ash, Cedar", ["Ash, Cedar"]],
    ["Cedar; Ash, Birch; Moss, Hale & Co", ["Cedar", "Ash", "Birch", "Moss, Hale & Co"]],
    ["Ash;Birch", ["Ash", "Birch"]],
    [" ; ", []],
  ] as const)
    expect([cell, namedIn(cell, known)]).toEqual([cell, names]);
});
