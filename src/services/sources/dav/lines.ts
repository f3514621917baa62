/**
 * A card or calendar with some of its properties put anew, and every other line exactly as it came: what another program wrote is its own
 * business, and a library that reads and writes all of it writes some of it otherwise.
 */

/** A property as it is written, over several lines where it is folded (RFC 6350 section 3.2, RFC 5545 section 3.1). */
const logicalLines = (text: string): string[] =>
  text
    .replace(/\r\n?/g, "\n")
    .replace(/\n+$/, "")
    .split(/\n(?![ \t])/);

const nameOf = (line: string): string => /^(?:[A-Za-z0-9-]+\.)?([A-Za-z0-9-]+)/.exec(line)?.[1]?.toUpperCase() ?? "";
const unfolded = (line: string): string =>
  line
    .replace(/\n[ \t]/g, "")
    .trim()
    .toUpperCase();

/** Where the first such component begins that is no exception of one that repeats, and where each line of its own stands. */
function ownLines(lines: readonly string[], component: string): { at: number[]; end: number } | null {
  const open: string[] = [];
  let at: number[] = [];
  for (const [i, line] of lines.entries()) {
    const said = unfolded(line);
    if (said.startsWith("BEGIN:")) {
      open.push(said.slice(6));
      if (open.at(-1) === component) at = [];
    } else if (said.startsWith("END:")) {
      const over = open.pop();
      if (over === component && !at.some((x) => nameOf(lines[x]!) === "RECURRENCE-ID")) return { at, end: i };
    } else if (open.at(-1) === component) at.push(i);
  }
  return null;
}

/**
 * @param component upper case, such as VEVENT
 * @param puts by the name of a property: the line that takes the place of the first such, or is added where there is none; null removes it
 * @throws Error where there is no such component
 */
export function withLines(text: string, component: string, puts: ReadonlyMap<string, string | null>): string {
  const lines = logicalLines(text);
  const own = ownLines(lines, component);
  if (!own) throw new Error(`There is no ${component} in it.`);
  const gone = new Set<number>();
  const added: string[] = [];
  for (const [name, put] of puts) {
    const at = own.at.find((i) => nameOf(lines[i]!) === name.toUpperCase());
    if (at === undefined) added.push(...(put === null ? [] : [put]));
    else if (put === null) gone.add(at);
    else lines[at] = put;
  }
  const is = [...lines.slice(0, own.end), ...added, ...lines.slice(own.end)].filter((_, i) => !gone.has(i));
  return `${is.join("\n").replace(/\r?\n/g, "\r\n")}\r\n`;
}
