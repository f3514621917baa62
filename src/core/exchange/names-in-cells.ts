/**
 * Names in a cell that names several. Semicolons part them, as exports write them; commas only where every part is a name that is there, since
 * a company may be called "Hale, Moss & Co".
 */
export function namedIn(text: string, names: (text: string) => boolean): string[] {
  const split = (t: string, by: string): string[] =>
    t
      .split(by)
      .map((p) => p.trim())
      .filter(Boolean);
  if (names(text)) return [text];
  return split(text, ";").flatMap((p) => {
    const parts = split(p, ",");
    return !names(p) && parts.length > 1 && parts.every(names) ? parts : [p];
  });
}
