/** Lines of a subscription in words, as the summary, the invoice and the outbox have them alike. */

import type { Definition } from "../definition/definition";
import { plusDays } from "../prices/periods";
import { formatDate } from "../text/format";
import type { Say } from "../words/words";
import type { Line } from "./change";

/** The lines of an invoice in the buyer's words, with their amounts in minor units. */
export const linesIn = (d: Definition, lines: readonly Line[], say: Say): { text: string; amount: number }[] =>
  lines.map((l) => ({ text: lineIn(d, l, say), amount: l.amount }));

/** A line of an invoice in the buyer's words. */
export function lineIn(d: Definition, l: Line, say: Say): string {
  const plan = d.plans.find((p) => p.id === l.plan)?.name ?? "";
  if (l.kind === "setup") return say("line.setup", { plan });
  const day = (x: string): string => formatDate(x, say.locale);
  return say(`line.${l.kind}`, { plan, seats: l.seats, from: day(l.from), until: day(plusDays(l.until, -1)) });
}
