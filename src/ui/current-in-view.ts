"use client";
import { type RefObject, useEffect, useRef } from "react";

/** Brings the current one of a row of links into view where the row is wider than the screen. */
export function useCurrentInView(here: string): RefObject<HTMLElement | null> {
  const row = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the current link changes with the address
  useEffect(() => {
    const current = row.current?.querySelector<HTMLElement>("[aria-current=page]");
    const { current: frame } = row;
    // Only sideways: scrollIntoView would move the page as well.
    if (current && frame) frame.scrollLeft = current.offsetLeft - (frame.clientWidth - current.offsetWidth) / 2;
  }, [here]);
  return row;
}
