/** A message of the catalogue with links or emphasis in it. */
import { Fragment, type ReactNode } from "react";

/** The parts of a message, one after the other. */
export const marked = (parts: readonly ReactNode[]): ReactNode =>
  // biome-ignore lint/suspicious/noArrayIndexKey: the parts of a sentence have no other name, and never change places
  parts.map((part, i) => <Fragment key={i}>{part}</Fragment>);

/** A mark that makes a link for writing to somebody. */
export const mailTo = (address: string): ReactNode => (
  <a className="link-plain" href={`mailto:${address}`}>
    {address}
  </a>
);
