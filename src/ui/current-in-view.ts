"use client";
import { type RefObject, useEffect, useRef } from "react";

/** Brings the current one of a row of links into view where the row is wider than the screen. */
export function useCurrentInView(here: string): RefObject<HTMLElement | null> {
  const row = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the current link changes with the address
  useEffect(() => {
    const frame = row.current;
    const current = frame?.querySelector("[aria-current=page]");
    if (!frame || !current) return;
    const [outer, inner] = [frame.getBoundingClientRect(), current.getBoundingClientRect()];
    // Only sideways: scrollIntoView would move the page as well.
    frame.scrollLeft += inner.left - outer.left - (outer.width - inner.width) / 2;
  }, [here]);
  return row;
}
