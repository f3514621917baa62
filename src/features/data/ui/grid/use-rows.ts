"use client";
/** Rows of a long table, chunk by chunk: those about to be seen are asked for before they are. */
import { useCallback, useEffect, useRef, useState } from "react";
import type { GridRow } from "../../queries";

export interface Rows {
  at(i: number): GridRow | undefined;
  /** In place of the row of that id. */
  put(row: GridRow): void;
  drop(id: string): void;
  back(row: GridRow, i: number): void;
  readonly total: number;
  /** A line broke: what is missing stays missing until it is asked for again. */
  readonly broken: boolean;
  /** These are seen, or soon will be. */
  want(from: number, to: number): void;
}

/** `first` is the chunk that came with the page; `address` is where the others are. */
export function useRows(first: readonly GridRow[], total: number, size: number, address: string): Rows {
  const [rows, setRows] = useState<(GridRow | undefined)[]>(() => [...first]);
  const [count, setCount] = useState(total);
  const [broken, setBroken] = useState(false);
  const asked = useRef(new Set<number>([0]));
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);

  const fetchChunk = useCallback(
    async (chunk: number) => {
      try {
        const answer = await fetch(`${address}${address.includes("?") ? "&" : "?"}chunk=${chunk}`);
        if (!answer.ok) throw new Error(String(answer.status));
        const found = (await answer.json()) as { rows: GridRow[] };
        if (gone.current) return;
        setRows((all) => {
          const next = [...all];
          for (const [i, r] of found.rows.entries()) next[chunk * size + i] = r;
          return next;
        });
        setBroken(false);
      } catch {
        asked.current.delete(chunk);
        if (!gone.current) setBroken(true);
      }
    },
    [address, size],
  );
  const want = useCallback(
    (from: number, to: number) => {
      const last = Math.max(0, Math.ceil(count / size) - 1);
      for (let c = Math.max(0, Math.floor(from / size) - 1); c <= Math.min(last, Math.floor(to / size) + 1); c++) {
        if (asked.current.has(c)) continue;
        asked.current.add(c);
        void fetchChunk(c);
      }
    },
    [count, size, fetchChunk],
  );
  const put = useCallback((row: GridRow) => setRows((all) => all.map((r) => (r?.id === row.id ? row : r))), []);
  const drop = useCallback((id: string) => {
    setRows((all) => all.filter((r) => r?.id !== id));
    setCount((n) => n - 1);
  }, []);
  const back = useCallback((row: GridRow, i: number) => {
    setRows((all) => (all.some((r) => r?.id === row.id) ? all : [...all.slice(0, i), row, ...all.slice(i)]));
    setCount((n) => n + 1);
  }, []);
  return { at: (i) => rows[i], put, drop, back, total: count, broken, want };
}
