/** An empty place that says why it is empty and what to do about it. */
import type { ReactNode } from "react";

/** Where there is nothing yet: that it is so, and what can be done. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="px-6 py-12 text-center" role="status">
      <p className="title text-lg font-semibold">{title}</p>
      {children && <div className="quiet mx-auto mt-2 max-w-prose">{children}</div>}
    </div>
  );
}
