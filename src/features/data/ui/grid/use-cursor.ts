"use client";
/** Where one is in the grid, which block is chosen, and which rows are in sight. Of a long table only those are drawn. */
import { type RefObject, useEffect, useRef, useState } from "react";
import { type At, blockOf } from "./block";

/** Pixels. */
export const ROW = 37;
const BEYOND = 12;
const HEIGHT_AT_FIRST = 620;

export function useCursor(frame: RefObject<HTMLDivElement | null>, rows: number, columns: number) {
  const [from, setFrom] = useState<At>({ row: 0, col: 0 });
  const [to, setTo] = useState<At>({ row: 0, col: 0 });
  const [scroll, setScroll] = useState({ top: 0, height: HEIGHT_AT_FIRST });
  /** Where the last key led: the focus follows a moment later. */
  const here = useRef<At>({ row: 0, col: 0 });
  useEffect(() => {
    if (frame.current) setScroll((s) => ({ ...s, height: frame.current!.clientHeight }));
  }, [frame]);

  const inside = (at: At): At => ({
    row: Math.max(0, Math.min(rows - 1, at.row)),
    col: Math.max(0, Math.min(columns - 1, at.col)),
  });
  const focus = (row: number, col: number): void => {
    const at = inside({ row, col });
    const box = frame.current;
    if (box) {
      const top = at.row * ROW;
      if (top < box.scrollTop) box.scrollTop = top;
      else if (top + 2 * ROW > box.scrollTop + box.clientHeight - ROW) box.scrollTop = top + 3 * ROW - box.clientHeight;
    }
    // After the rows in sight are drawn anew.
    requestAnimationFrame(() =>
      requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-cell="${at.row} ${at.col}"]`)?.focus()),
    );
  };
  const put = (at: At, extend: boolean): void => {
    here.current = at;
    setTo(at);
    if (!extend) setFrom(at);
  };

  return {
    here,
    block: blockOf(from, to),
    /** The first and last of the rows that are drawn. */
    first: Math.max(0, Math.floor(scroll.top / ROW) - BEYOND),
    last: Math.min(rows - 1, Math.ceil((scroll.top + scroll.height) / ROW) + BEYOND),
    /** Rows that a page of the grid has. */
    page: Math.max(1, Math.floor(scroll.height / ROW) - 2),
    scrolled: (box: HTMLElement): void => setScroll({ top: box.scrollTop, height: box.clientHeight }),
    focus,
    put,
    move(at: At, extend: boolean): void {
      const next = inside(at);
      put(next, extend);
      focus(next.row, next.col);
    },
  };
}
