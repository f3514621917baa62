/** Paying on the Till's page, as a person does. */
import { CARDS } from "../../src/till/cards";
import type { Browser } from "./browser";

type Does = (typeof CARDS)[number]["does"];

export const cardOf = (does: Does): string => CARDS.find((c) => c.does === does)!.number;

export async function payWith(b: Browser, does: Does): Promise<void> {
  await b.seesText("Your card");
  await b.type("input[name=number]", cardOf(does));
  await b.type("input[name=until]", "09 / 41");
  await b.type("input[name=code]", "123");
  await b.type("input[name=name]", "E Carrow");
  await b.click("form[action^='/pay/'] button");
}
