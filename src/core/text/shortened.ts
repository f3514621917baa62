/** What somebody wrote, as much of it as a sentence about it can hold. */
export const shortened = (s: string): string => (s.length > 40 ? `${s.slice(0, 40)}…` : s);
