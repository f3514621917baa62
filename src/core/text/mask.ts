/**
 * Shapes of texts, as an owner writes them: `A` is a letter, `0` a digit, `?` either, `*` at the end whatever follows; every other sign
 * stands for itself, and so does one after a backslash. A shape and not a regular expression, so that none can be made to run for ever.
 */

/** Whether a text has the form that a field asks for. */
export function fitsMask(text: string, mask: string): boolean {
  const signs = [...text];
  let at = 0;
  const wanted = [...mask];
  for (let i = 0; i < wanted.length; i++) {
    const m = wanted[i]!;
    if (m === "*" && i === wanted.length - 1) return true;
    const c = signs[at++];
    if (c === undefined) return false;
    const literal = m === "\\" && i + 1 < wanted.length ? wanted[++i]! : null;
    if (literal !== null ? c !== literal : !fits(c, m)) return false;
  }
  return at === signs.length;
}

function fits(c: string, m: string): boolean {
  if (m === "A") return /\p{L}/u.test(c);
  if (m === "0") return /\p{Nd}/u.test(c);
  if (m === "?") return /[\p{L}\p{Nd}]/u.test(c);
  return c === m;
}
