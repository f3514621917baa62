import { expect, it } from "vitest";
import { inTurn } from "./turns";

it("one after the other in a portal, also after one that failed; another portal waits for neither", async () => {
  const said: string[] = [];
  let letGo = (): void => {};
  const held = new Promise<void>((done) => (letGo = done));
  const first = inTurn("a", async () => {
    said.push("first begins");
    await held;
    throw new Error("lost");
  });
  const second = inTurn("a", async () => said.push("second"));
  await inTurn("b", async () => said.push("other portal"));
  expect(said).toEqual(["first begins", "other portal"]);
  letGo();
  await expect(first).rejects.toThrow("lost");
  await second;
  expect(said).toEqual(["first begins", "other portal", "second"]);
});
