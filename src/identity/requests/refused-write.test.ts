import { inspect } from "node:util";
import { expect, it } from "vitest";
import { RefusedWrite } from "./refused-write";

it("is one line wherever it is logged, and an error wherever it is caught", () => {
  const refused = new RefusedWrite("Sign in first.");
  expect(inspect(refused)).toBe("[Refused: Sign in first.]");
  expect([refused instanceof Error, refused.message, refused.digest]).toEqual([true, "Sign in first.", "refused"]);
});
