"use client";
/** A record is removed, told what would go with it first, and brought back from the notice. */
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { removeFromGrid, undoRemove } from "../../actions";
import type { GridRow } from "../../queries";
import type { Rows } from "./use-rows";

interface Of {
  readonly portal: string;
  readonly tableId: string;
  readonly singular: string;
  readonly rows: Rows;
}

export function useRemoval({ portal, tableId, singular, rows }: Of) {
  /** A record whose removal would touch others: said before it is done. */
  const [asked, setAsked] = useState<{ row: GridRow; i: number; message: string } | null>(null);
  const [busy, start] = useTransition();
  const router = useRouter();

  const bringBack = (row: GridRow, i: number): void =>
    start(async () => {
      const undone = await answered(undoRemove(portal, row.id));
      if (!undone) return;
      if (!undone.ok) {
        toast.error(undone.message, { duration: 15_000 });
        return;
      }
      toast.success(`The ${singular.toLowerCase()} is back, with all that pointed to it.`);
      rows.back(row, i);
      router.refresh();
    });

  const remove = (row: GridRow, i: number, sure = false): void =>
    start(async () => {
      const done = await answered(removeFromGrid(portal, tableId, row.id, sure));
      if (!done) return;
      if (!done.ok) {
        setAsked(done.ask ? { row, i, message: done.message } : null);
        if (!done.ask) toast.error(done.message);
        return;
      }
      setAsked(null);
      rows.drop(row.id);
      const action = { label: "Undo", onClick: () => bringBack(row, i) };
      toast(done.message, { duration: 60_000, closeButton: true, action });
    });

  const question = asked && (
    <div
      role="alertdialog"
      aria-label="Before it is removed"
      className="flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-200 px-4 py-3"
    >
      <span className="mr-auto">{asked.message}</span>
      <button type="button" className="btn btn-sm" onClick={() => remove(asked.row, asked.i, true)}>
        Remove it all the same
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => setAsked(null)}>
        Leave it
      </button>
    </div>
  );
  return { busy, remove, question };
}
