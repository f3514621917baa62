/** A page with one thing to do. */
import type { ReactNode } from "react";

/** A narrow column with a title, for what has one thing to say. */
export function Narrow({ title, lead, children }: { title: string; lead?: ReactNode; children?: ReactNode }) {
  return (
    <div className="sheet mx-auto mt-6 max-w-md p-6 md:mt-12 md:p-8">
      <h1>{title}</h1>
      {lead && <p className="quiet mt-2">{lead}</p>}
      <div className="mt-6">{children}</div>
    </div>
  );
}
