"use client";
/** The head of a column: its name sorts, the funnel filters, its edge makes it wider. */
import { ArrowDown, ArrowUp, ArrowUpRight, ListFilter } from "lucide-react";
import { type PointerEvent, useRef } from "react";
import { type Field, kindOf } from "@/core/schema/types";
import { Link } from "@/ui/link";
import { ColumnFilter } from "./column-filter";
import type { Shown } from "./layout";

interface Props {
  portal: string;
  column: Shown;
  /** Other systems that it goes to. */
  goesTo: readonly string[] | null;
  sorted: "up" | "down" | null;
  sortHref: string | undefined;
  filter: { operator: never; texts: readonly string[] } | null;
  open: boolean;
  setOpen: (open: boolean) => void;
  setFilter: (field: Field, filter: { operator: string; texts: string[] } | null) => void;
  setWidth: (field: string, width: number) => void;
}

const STEP = 16;

export function Head({ portal, column, goesTo, sorted, sortHref, filter, open, setOpen, setFilter, setWidth }: Props) {
  const { field: f, width, left } = column;
  const start = useRef<{ x: number; width: number } | null>(null);
  const drag = (e: PointerEvent<HTMLElement>): void => {
    if (start.current) setWidth(f.id, start.current.width + e.clientX - start.current.x);
  };
  return (
    <th
      scope="col"
      className={`${kindOf(f).numeric ? "num" : ""} ${left === null ? "" : "frozen"}`}
      style={{ width, ...(left === null ? {} : { left }) }}
      aria-sort={sorted ? (sorted === "down" ? "descending" : "ascending") : undefined}
    >
      <span className="flex items-center gap-1">
        {sortHref ? (
          <Link href={sortHref} className="inline-flex min-w-0 items-center gap-1 hover:underline">
            <span className="truncate">{f.name}</span>
            {sorted === "down" && <ArrowDown size={13} aria-hidden className="shrink-0" />}
            {sorted === "up" && <ArrowUp size={13} aria-hidden className="shrink-0" />}
          </Link>
        ) : (
          <span className="truncate">{f.name}</span>
        )}
        {goesTo && (
          <span className="shrink-0 text-accent" title={`Goes to ${goesTo.join(", ")}`}>
            <ArrowUpRight size={13} aria-hidden />
            <span className="sr-only">Goes to {goesTo.join(", ")}</span>
          </span>
        )}
        <button
          type="button"
          className={`btn btn-ghost btn-square ml-auto size-6! shrink-0 ${filter ? "text-accent" : "opacity-50 hover:opacity-100 focus:opacity-100"}`}
          aria-label={filter ? `${f.name} is filtered` : `Filter by ${f.name}`}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          <ListFilter size={13} aria-hidden />
        </button>
      </span>
      {open && (
        <ColumnFilter
          portal={portal}
          field={f}
          operator={filter?.operator ?? null}
          texts={filter?.texts ?? []}
          onApply={(operator, texts) => setFilter(f, { operator, texts })}
          onClear={() => setFilter(f, null)}
          onLeave={() => setOpen(false)}
        />
      )}
      {/* biome-ignore lint/a11y/useSemanticElements: a separator that can be moved is a widget (WAI-ARIA 1.2, "separator"), which hr is not */}
      <span
        role="separator"
        aria-orientation="vertical"
        aria-label={`Width of ${f.name}`}
        aria-valuenow={width}
        aria-valuemin={60}
        aria-valuemax={900}
        tabIndex={0}
        className="absolute top-0 right-0 h-full w-2 cursor-col-resize hover:bg-base-300 focus:bg-base-300"
        onPointerDown={(e) => {
          start.current = { x: e.clientX, width };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={drag}
        onPointerUp={() => {
          start.current = null;
        }}
        onKeyDown={(e) => {
          const by = e.key === "ArrowRight" ? STEP : e.key === "ArrowLeft" ? -STEP : 0;
          if (by !== 0) setWidth(f.id, width + by);
        }}
      />
    </th>
  );
}
