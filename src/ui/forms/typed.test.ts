import { expect, it } from "vitest";
import { somethingIsTyped } from "./typed";

const page = (...boxes: [came: string, is: string][]) => ({
  querySelectorAll: () => boxes.map(([defaultValue, value]) => ({ defaultValue, value })),
});

it("a page is being typed in where a box holds other words than it came with, also none", () => {
  expect(somethingIsTyped(page())).toBe(false);
  expect(somethingIsTyped(page(["", ""], ["Lead", "Lead"]))).toBe(false);
  expect(somethingIsTyped(page(["", ""], ["", "Why this was changed"]))).toBe(true);
  expect(somethingIsTyped(page(["Lead", ""]))).toBe(true);
});
