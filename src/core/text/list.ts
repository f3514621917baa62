/** Words as English enumerates them: "a", "a and b", "a, b and c". */
export const list = (words: readonly string[], last: string): string =>
  words.length < 2 ? (words[0] ?? "") : `${words.slice(0, -1).join(", ")} ${last} ${words[words.length - 1]}`;
