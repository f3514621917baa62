"use client";
/** The head of the grid and the tools above it. */
import { Columns3 } from "lucide-react";
import type { useRouter } from "next/navigation";
import type { Dispatch, SetStateAction } from "react";
import type { Locale } from "@/core/schema/fields/kind";
import type { Field } from "@/core/schema/types";
import type { View } from "@/data/views/views";
import type { GridRow } from "../../queries";
import { Head } from "./head";
import type { Shown } from "./layout";
import { BOX_WIDTH, withWidth } from "./layout";
import type { useCells } from "./use-cells";
import type { Rows } from "./use-rows";

interface GridToolsProps {
  readonly panel: boolean;
  readonly setPanel: Dispatch<SetStateAction<boolean>>;
  readonly busy: boolean;
  readonly cells: Pick<ReturnType<typeof useCells>, "undo" | "undoable">;
  readonly rows: Rows;
  readonly locale: Locale;
}

/** Columns and views, and undo. */
export function GridTools({ panel, setPanel, busy, cells, rows, locale }: GridToolsProps) {
  return (
    <div className="flex flex-wrap items-center gap-3 border-b border-base-300 px-3 py-1.5">
      <button type="button" className="btn btn-ghost btn-sm" aria-expanded={panel} onClick={() => setPanel(!panel)}>
        <Columns3 size={15} aria-hidden /> Columns and views
      </button>
      <button type="button" className="btn btn-ghost btn-sm" disabled={busy || cells.undoable === 0} onClick={cells.undo}>
        Undo{cells.undoable > 0 && ` (${cells.undoable})`}
      </button>
      {busy && <span className="loading loading-spinner loading-xs" role="status" aria-label="Keeping" />}
      <span className="quiet ml-auto text-sm tabular-nums">
        {rows.total.toLocaleString(locale.locale)} {rows.total === 1 ? "record" : "records"}
      </span>
    </div>
  );
}

interface GridHeadProps {
  readonly columns: Shown[];
  readonly portal: string;
  readonly p: Props;
  readonly filtering: string | null;
  readonly setFiltering: Dispatch<SetStateAction<string | null>>;
  readonly router: ReturnType<typeof useRouter>;
  readonly setView: (next: View) => void;
  readonly fields: Field[];
  readonly view: View;
}

/** Names of the columns, with sort and filter. */
export function GridHead({ columns, portal, p, filtering, setFiltering, router, setView, fields, view }: GridHeadProps) {
  return (
    <thead>
      <tr>
        <th scope="col" className="frozen" style={{ width: BOX_WIDTH, left: 0 }}>
          <span className="sr-only">Chosen</span>
        </th>
        {columns.map((c) => (
          <Head
            key={c.field.id}
            portal={portal}
            column={c}
            goesTo={p.goesTo[c.field.id] ?? null}
            sorted={p.sort?.field === c.field.id ? (p.sort.descending ? "down" : "up") : null}
            sortHref={p.sortHrefs[c.field.id]}
            filter={(p.filters.find((f) => f.field === c.field.id) as never) ?? null}
            open={filtering === c.field.id}
            setOpen={(on) => setFiltering(on ? c.field.id : null)}
            setFilter={(field, filter) => {
              setFiltering(null);
              router.push(filteredAt(p, field, filter));
            }}
            setWidth={(field, w) => setView(withWidth(fields, view, field, w))}
          />
        ))}
        <th scope="col" className="acts" style={{ width: ACTS_WIDTH }}>
          <span className="sr-only">Who sees it{p.removable && ", and removing it"}</span>
        </th>
      </tr>
    </thead>
  );
}

export interface Props {
  portal: string;
  tableId: string;
  /** The grid's own address, without a query. */
  at: string;
  singular: string;
  fields: Field[];
  rows: GridRow[];
  total: number;
  chunk: number;
  locale: Locale;
  sort: { field: string; descending: boolean } | null;
  sortHrefs: Record<string, string>;
  filters: { field: string; operator: string; texts: string[] }[];
  /** The query of the address, as it is sorted and filtered now. */
  query: string;
  view: View;
  named: { id: string; name: string; href: string }[];
  /** Names of the other systems that a field goes to, by its id. */
  goesTo: Readonly<Record<string, readonly string[]>>;
  removable: boolean;
  /** Where each record's page of who sees it begins. */
  whyAt: string;
}

/** The cell of the acts on a row. */
export const ACTS_WIDTH = 76;

/** The address of the grid with another filter of one column. */
export function filteredAt(p: Pick<Props, "at" | "query">, field: Field, filter: { operator: string; texts: string[] } | null): string {
  const params = new URLSearchParams(p.query);
  const others = params.getAll("f").filter((t) => !t.startsWith(`${field.slug}.`));
  params.delete("f");
  for (const t of others) params.append("f", t);
  if (filter) params.append("f", [field.slug, filter.operator, filter.texts.map(encodeURIComponent).join("~")].join("."));
  return `${p.at}${params.size > 0 ? `?${params}` : ""}`;
}
