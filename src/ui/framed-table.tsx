import type { ReactNode } from "react";

export interface Column {
  readonly name: string;
  /** Figures stand to the right. */
  readonly num?: boolean;
  /** Named for screen readers only. */
  readonly unseen?: boolean;
  readonly className?: string;
}

/** A table in a sheet's frame; on a narrow screen each row becomes a small sheet, its cells named by `data-label`. */
export function FramedTable({ columns, children }: { columns: readonly Column[]; children: ReactNode }) {
  return (
    <div className="sheet overflow-hidden">
      <table className="grid-table stacks">
        <thead>
          <tr>
            {columns.map((c) => (
              <th key={c.name} scope="col" className={`${c.num ? "num" : ""} ${c.className ?? ""}`.trim() || undefined}>
                {c.unseen ? <span className="sr-only">{c.name}</span> : c.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </div>
  );
}
