"use client";
import { useEffect, useState } from "react";
import type { Outcome } from "@/data/background";
import type { Matrix } from "../sightlines";

type Loaded = Outcome<Matrix>;

/** Asks for the matrix and, while it is being worked out, asks again. */
export function useMatrix(at: string, which: string): Loaded {
  const [loaded, setLoaded] = useState<Loaded>({ state: "working", done: 0, of: 1 });
  useEffect(() => {
    const stop = new AbortController();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const ask = async (): Promise<void> => {
      try {
        const answer = await fetch(`${at}/sightlines/data?of=${which}`, { signal: stop.signal });
        if (!answer.ok) throw new Error(String(answer.status));
        const next = (await answer.json()) as Loaded;
        setLoaded(next);
        if (next.state === "working") timer = setTimeout(ask, 200);
      } catch {
        if (!stop.signal.aborted) setLoaded({ state: "failed" });
      }
    };
    ask();
    return () => {
      stop.abort();
      clearTimeout(timer);
    };
  }, [at, which]);
  return loaded;
}
