/** What an import has done, in words. */

interface Counts {
  readonly fresh: number;
  readonly changed: number;
  readonly bad: number;
}

/** "59 new, 2 changed". `n` writes a number as the portal does. */
export const broughtWords = ({ fresh, changed }: Counts, n: (x: number) => string): string =>
  [fresh > 0 && `${n(fresh)} new`, changed > 0 && `${n(changed)} changed`].filter(Boolean).join(", ") || "nothing was changed";

/** Empty where all rows came in. */
export const leftOutWords = ({ bad }: Counts, n: (x: number) => string): string =>
  bad === 0 ? "" : bad === 1 ? "One row stayed out." : `${n(bad)} rows stayed out.`;
