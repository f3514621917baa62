"use client";
import { ArrowDown, ArrowUp, Eye, Trash2 } from "lucide-react";
import { useRouter } from "next/navigation";
import { type KeyboardEvent, useState, useTransition } from "react";
import { toast } from "sonner";
import type { SeenValue } from "@/core/records";
import type { Locale } from "@/core/schema/fields/kind";
import { type Field, kindOf } from "@/core/schema/types";
/** The grid: arrow keys move, Enter opens a cell, Enter keeps, Esc leaves. Removing can be undone. */
import { answered } from "@/ui/answered";
import { FieldValue } from "@/ui/field-value";
import { Link } from "@/ui/link";
import { removeFromGrid, undoRemove } from "../actions";
import { CellEditor } from "./cell-editor";

export interface GridRow {
  id: string;
  seen: string;
  fields: Record<string, SeenValue>;
}

interface Props {
  portal: string;
  tableId: string;
  singular: string;
  fields: Field[];
  rows: GridRow[];
  locale: Locale;
  sort: { field: string; descending: boolean } | null;
  sortHrefs: Record<string, string>;
  removable: boolean;
  /** Where each record's page of who sees it begins. */
  whyAt: string;
}

type At = { row: number; col: number };

export function Grid({ portal, tableId, singular, fields, rows: given, locale, sort, sortHrefs, removable, whyAt }: Props) {
  const [rows, setRows] = useState(given);
  const [editing, setEditing] = useState<At | null>(null);
  const [, start] = useTransition();
  const router = useRouter();

  const focus = (row: number, col: number) => document.querySelector<HTMLElement>(`[data-cell="${row} ${col}"]`)?.focus();

  const keys = (e: KeyboardEvent<HTMLElement>, at: At) => {
    if (editing) return;
    const moves: Record<string, [number, number]> = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };
    const by = moves[e.key];
    if (by) {
      e.preventDefault();
      focus(at.row + by[0], at.col + by[1]);
    } else if (e.key === "Enter" || e.key === "F2") {
      e.preventDefault();
      setEditing(at);
    }
  };

  const keep = (at: At, value: SeenValue, seen: string) => {
    const field = fields[at.col]!;
    setRows((all) => all.map((r, i) => (i === at.row ? { ...r, seen, fields: { ...r.fields, [field.id]: value } } : r)));
    leave(at);
  };
  const leave = (at: At) => {
    setEditing(null);
    requestAnimationFrame(() => focus(at.row, at.col));
  };

  const remove = (row: GridRow) =>
    start(async () => {
      const done = await answered(removeFromGrid(portal, tableId, row.id));
      if (!done) return;
      if (!done.ok) {
        toast.error(done.message);
        return;
      }
      setRows((all) => all.filter((r) => r.id !== row.id));
      toast(done.message, {
        duration: 60_000,
        closeButton: true,
        action: {
          label: "Undo",
          onClick: () =>
            start(async () => {
              const undone = await answered(undoRemove(portal, row.id));
              if (undone) {
                toast.success(`The ${singular.toLowerCase()} is back, with all that pointed to it.`);
                setRows((all) => (all.some((r) => r.id === row.id) ? all : [row, ...all]));
                router.refresh();
              } else if (undone === false) toast.error("It could not be brought back.");
            }),
        },
      });
    });

  return (
    <div className="overflow-x-auto">
      <table className="grid-table">
        <thead>
          <tr>
            {fields.map((f) => (
              <th
                key={f.id}
                scope="col"
                className={kindOf(f).numeric ? "num" : ""}
                aria-sort={sort?.field === f.id ? (sort.descending ? "descending" : "ascending") : undefined}
              >
                {sortHrefs[f.id] ? (
                  <Link href={sortHrefs[f.id]!} className="inline-flex items-center gap-1 hover:underline">
                    {f.name}
                    {sort?.field === f.id && (sort.descending ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />)}
                  </Link>
                ) : (
                  f.name
                )}
              </th>
            ))}
            <th scope="col" className="acts">
              <span className="sr-only">Who sees it{removable && ", and removing it"}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r, row) => (
            <tr key={r.id} className="group">
              {fields.map((f, col) => {
                const open = editing?.row === row && editing.col === col;
                return (
                  <td key={f.id} className={`${kindOf(f).numeric ? "num" : ""} ${open ? "overflow-visible!" : ""}`}>
                    {open ? (
                      <CellEditor
                        portal={portal}
                        tableId={tableId}
                        recordId={r.id}
                        seen={r.seen}
                        field={f}
                        value={r.fields[f.id] ?? null}
                        locale={locale}
                        onKeep={(v, seen) => keep({ row, col }, v, seen)}
                        onLeave={() => leave({ row, col })}
                      />
                    ) : (
                      <button
                        type="button"
                        data-cell={`${row} ${col}`}
                        disabled={f.system}
                        className={`-mx-1 block min-h-6.5 w-[calc(100%+0.5rem)] cursor-text truncate rounded-sm px-1 disabled:cursor-default ${kindOf(f).numeric ? "text-right" : "text-left"}`}
                        onKeyDown={(e) => keys(e, { row, col })}
                        onClick={() => setEditing({ row, col })}
                      >
                        <span className="sr-only">{f.name}: </span>
                        <FieldValue field={f} value={r.fields[f.id]} locale={locale} plain />
                        <span className="sr-only">{f.system ? ", set by Elkhorn" : ", change"}</span>
                      </button>
                    )}
                  </td>
                );
              })}
              <td className="acts w-16">
                <Link
                  href={`${whyAt}/${r.id}`}
                  className="btn btn-ghost btn-square size-7! opacity-50 group-hover:opacity-100 focus:opacity-100"
                  aria-label={`Who sees this ${singular.toLowerCase()}, and why`}
                  title="Who sees it, and why"
                >
                  <Eye size={14} aria-hidden />
                </Link>
                {removable && (
                  <button
                    type="button"
                    className="btn btn-ghost btn-square size-7! opacity-50 group-hover:opacity-100 focus:opacity-100"
                    aria-label={`Remove this ${singular.toLowerCase()}`}
                    onClick={() => remove(r)}
                  >
                    <Trash2 size={14} aria-hidden />
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
