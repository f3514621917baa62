"use client";
/** Cells that are set, kept on the server, and put back by undo, newest first. */
import { useState, useTransition } from "react";
import { toast } from "sonner";
import type { Locale } from "@/core/schema/fields/kind";
import type { SeenValue } from "@/core/schema/seen";
import type { Field } from "@/core/schema/types";
import { answered } from "@/ui/answered";
import { type CellChanges, changeCells } from "../../cells";
import type { Block } from "./block";
import type { Shown } from "./layout";
import { textsOf } from "./texts";
import type { Rows } from "./use-rows";

type Records = CellChanges["records"];

interface Of {
  readonly portal: string;
  readonly tableId: string;
  readonly fields: readonly Field[];
  readonly rows: Rows;
  readonly locale: Locale;
}

/** What cells of these records say now, of rows that are loaded. */
function textsNow({ fields, rows, locale }: Of, records: Records): Records {
  const asked = new Map(records.map((r) => [r.record, r.cells.map((c) => c.field)]));
  const now: Records = [];
  for (let i = 0; i < rows.total; i++) {
    const row = rows.at(i);
    const cells = row && asked.get(row.id);
    if (row && cells)
      now.push({
        record: row.id,
        seen: null,
        cells: cells.map((id) => ({ field: id, texts: textsOf(fields.find((f) => f.id === id)!, row.fields[id], locale) })),
      });
  }
  return now;
}

export function useCells(of: Of) {
  const { rows, locale } = of;
  /** What undo puts back: the texts that cells had. */
  const [undos, setUndos] = useState<Records[]>([]);
  const [busy, start] = useTransition();

  const settle = (records: Records, undoable = true): void =>
    start(async () => {
      const was = textsNow(of, records);
      const answer = await answered(changeCells(of.portal, { table: of.tableId, records }));
      if (!answer) return;
      for (const r of answer.rows) rows.put(r);
      const changed = new Set(answer.rows.map((r) => r.id));
      if (undoable && changed.size > 0) setUndos((all) => [...all, was.filter((w) => changed.has(w.record))]);
      if (answer.problems.length === 0) return;
      const [one] = answer.problems;
      const more = answer.problems.length > 1 ? ` And ${answer.problems.length - 1} more.` : "";
      toast.error(`${one!.message}${more}`, { duration: 15_000 });
    });

  return {
    busy,
    settle,
    undoable: undos.length,
    undo(): void {
      const latest = undos.at(-1);
      if (!latest) return;
      setUndos((all) => all.slice(0, -1));
      settle(latest, false);
    },
    /** Notes a cell that its editor has kept already. */
    kept(i: number, field: Field, value: SeenValue, seen: string): void {
      const row = rows.at(i);
      if (!row) return;
      const was = textsOf(field, row.fields[field.id], locale);
      setUndos((all) => [...all, [{ record: row.id, seen: null, cells: [{ field: field.id, texts: was }] }]]);
      rows.put({ ...row, seen, fields: { ...row.fields, [field.id]: value } });
    },
    /** What `texts` says for each cell of a block that people may set. */
    changesIn(b: Block, columns: readonly Shown[], texts: (row: number, col: number) => string[] | null): Records {
      const records: Records = [];
      for (let r = b.top; r <= b.bottom; r++) {
        const row = rows.at(r);
        if (!row) continue;
        const cells = [];
        for (let c = b.left; c <= b.right; c++) {
          const f = columns[c]?.field;
          const t = f && !f.system ? texts(r, c) : null;
          if (f && t) cells.push({ field: f.id, texts: t });
        }
        if (cells.length > 0) records.push({ record: row.id, seen: row.seen, cells });
      }
      return records;
    },
  };
}
