"use client";
import { useEffect, useRef, useState } from "react";

/** What an address tells of work in the background: how far it is, or that it ended one way or the other. */
export type Told<Ready> = { state: "working"; done: number; of: number } | { state: "failed" } | Ready;

const BEGUN = { state: "working", done: 0, of: 1 } as const;

interface How<Ready> {
  /** Milliseconds from one question to the next. */
  every: number;
  /** Whether the first question waits as long, too: the page has just been told that the work is not done. */
  late?: boolean;
  onReady?: (told: Ready) => void;
}

/** Asks an address again and again until the work that it tells of has ended. */
export function usePolled<Ready extends { state: "ready" }>(at: string, { every, late = false, onReady }: How<Ready>): Told<Ready> {
  const [told, setTold] = useState<Told<Ready>>(BEGUN);
  const then = useRef(onReady);
  then.current = onReady;
  useEffect(() => {
    const stop = new AbortController();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const ask = async (): Promise<void> => {
      try {
        const answer = await fetch(at, { signal: stop.signal });
        if (!answer.ok) throw new Error(String(answer.status));
        const next = (await answer.json()) as Told<Ready>;
        setTold(next);
        if (next.state === "working") timer = setTimeout(ask, every);
        if (next.state === "ready") then.current?.(next);
      } catch {
        if (!stop.signal.aborted) setTold({ state: "failed" });
      }
    };
    if (late) timer = setTimeout(ask, every);
    else ask();
    return () => {
      stop.abort();
      clearTimeout(timer);
    };
  }, [at, every, late]);
  return told;
}
