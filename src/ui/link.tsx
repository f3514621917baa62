import type { ComponentProps } from "react";

interface Props extends ComponentProps<"a"> {
  href: string;
  /** Whether the page begins at its top, or stays where it was. */
  scroll?: boolean;
}

/**
 * A link within these pages. It is a plain one, which `SoftLinks` follows without loading the page anew: a list of fifty records has some
 * hundred and fifty of them, and none of these has to be woken up by itself.
 */
export const Link = ({ scroll = true, ...props }: Props) => <a data-soft={scroll ? "" : "still"} {...props} />;
