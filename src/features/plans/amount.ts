import { readMoney } from "@/core/schema/fields/money";

/** Minor units of an amount as somebody types it, no finer than the currency has it; a sentence where it is none. Empty is nothing. */
export function readAmount(text: string, currency: string): number | string {
  if (text.trim() === "") return 0;
  const read = readMoney(text, currency, undefined, "refuse");
  return read.ok ? read.value : read.error;
}
