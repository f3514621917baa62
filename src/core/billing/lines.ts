/** Lines of a subscription in words, as the summary, the invoice and the outbox have them alike. */

import type { Definition } from "../definition/definition";
import { plusDays } from "../prices/periods";
import { formatDate } from "../text/format";
import type { Say } from "../words/words";
import type { Line } from "./change";

export const linesIn = (d: Definition, lines: readonly Line[], say: Say): { text: string; amount: number }[] =>
  lines.map((l) => ({ text: lineIn(d, l, say), amount: l.amount }));

export function lineIn(d: Definition, l: Line, say: Say): string {
  const plan = d.plans.find((p) => p.id === l.plan)?.name ?? "";
  if (l.kind === "setup") return say("line.setup", { plan });
  const day = (x: string): string => formatDate(x, say.locale);
  return say(`line.${l.kind}`, { plan, seats: l.seats, from: day(l.from), until: day(plusDays(l.until, -1)) });
}
