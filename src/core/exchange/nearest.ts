/** Names near to one that is nowhere: what was most likely meant. */
import { distance } from "fastest-levenshtein";
import { fold } from "../text/fold";

export interface Named {
  readonly id: string;
  readonly name: string;
}

/** Names that were compared; with very many, those that begin alike or share a word stand before the rest. */
const MOST_COMPARED = 20_000;

/**
 * The nearest first, at most `most`: a third of the letters may differ (edit distance of Levenshtein 1966), and one that holds all words
 * of the other counts as near.
 */
export function nearest(text: string, names: readonly Named[], most = 3): Named[] {
  const wanted = fold(text.trim());
  if (wanted === "") return [];
  const scored: { named: Named; score: number }[] = [];
  for (const named of names.slice(0, MOST_COMPARED)) {
    const name = fold(named.name);
    const longer = Math.max(name.length, wanted.length);
    if (Math.abs(name.length - wanted.length) > longer / 2 && !name.includes(wanted) && !wanted.includes(name)) continue;
    const part = wanted.length >= 4 && (name.includes(wanted) || (name.length >= 4 && wanted.includes(name)));
    const score = part ? 0.2 : distance(wanted, name) / longer;
    if (score <= 1 / 3) scored.push({ named, score });
  }
  return scored
    .sort((a, b) => a.score - b.score)
    .slice(0, most)
    .map((s) => s.named);
}
