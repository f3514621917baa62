/**
 * Test cards. They move no money, and no scheme issues them: ISO/IEC 7812-1 gives a first digit of 9 to national bodies, followed by the
 * country's number (ISO 3166-1), of which 999 is nobody's. The last digit is Luhn's (ISO/IEC 7812-1, annex B).
 */
export type Behaviour = "paid" | "refused" | "too little" | "second step" | "expired" | "slow" | "lost" | "once";

/** The digit that makes a number of these digits right. */
export function luhnDigit(digits: string): string {
  const sum = [...digits].reverse().reduce((n, d, i) => {
    const v = Number(d) * (i % 2 === 0 ? 2 : 1);
    return n + (v > 9 ? v - 9 : v);
  }, 0);
  return String((10 - (sum % 10)) % 10);
}
export const isLuhn = (number: string): boolean => /^\d{2,}$/.test(number) && luhnDigit(number.slice(0, -1)) === number.slice(-1);

const card = (n: number): string => {
  const digits = `999900000000${String(n).padStart(3, "0")}`;
  return digits + luhnDigit(digits);
};

export const CARDS: readonly { readonly number: string; readonly does: Behaviour; readonly words: string }[] = (
  [
    ["paid", "It pays, now and later."],
    ["refused", "It is refused."],
    ["too little", "There is not enough money on it."],
    ["second step", "It asks for a second step, and then pays."],
    ["expired", "It has expired."],
    ["slow", "It pays, but takes ten seconds."],
    ["lost", "It pays, and nobody is told: the event is lost."],
    ["once", "It pays the first time, and is refused when it is charged again."],
  ] as const
).map(([does, words], i) => ({ number: card(i + 1), does, words }));

export const WHY: Readonly<Partial<Record<Behaviour, string>>> = {
  refused: "The card was refused by its bank.",
  "too little": "There is not enough money on the card.",
  expired: "The card has expired.",
  once: "The card was refused by its bank.",
};

/** A sentence for what no card of ours can be; else what the card does. */
export function readCard(number: string, until: string, now: number): { does: Behaviour; last: string } | { problem: string } {
  const digits = number.replace(/[\s-]/g, "");
  if (!/^\d{12,19}$/.test(digits)) return { problem: "A card number has 12 to 19 digits." };
  if (!isLuhn(digits)) return { problem: "That is no card number: a digit is wrong." };
  const known = CARDS.find((c) => c.number === digits);
  if (!known) return { problem: "The Till takes its own test cards alone: never give it a real one." };
  const read = /^\s*(\d{1,2})\s*\/\s*(?:20)?(\d{2})\s*$/.exec(until);
  if (!read || Number(read[1]) < 1 || Number(read[1]) > 12) return { problem: "Write until when it is good, such as 09 / 31." };
  if (Date.UTC(2000 + Number(read[2]), Number(read[1]), 1) <= now) return { problem: "That day is over: the card has expired." };
  return { does: known.does, last: digits.slice(-4) };
}
