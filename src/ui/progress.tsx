"use client";
/** Stands where something is still being worked out: shows how far it is and, once it is there, has the page drawn anew. */
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";

interface Props {
  /** Address that tells how far the work is. */
  at: string;
  words: string;
}

type Told = { state: "working"; done: number; of: number } | { state: "ready" } | { state: "failed" };
const EVERY = 400; // ms

export function Progress({ at, words }: Props) {
  const router = useRouter();
  const [told, setTold] = useState<Told>({ state: "working", done: 0, of: 1 });
  useEffect(() => {
    const stop = new AbortController();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const ask = async (): Promise<void> => {
      try {
        const answer = await fetch(at, { signal: stop.signal });
        if (!answer.ok) throw new Error(String(answer.status));
        const next = (await answer.json()) as Told;
        setTold(next);
        if (next.state === "working") timer = setTimeout(ask, EVERY);
        if (next.state === "ready") router.refresh();
      } catch {
        if (!stop.signal.aborted) setTold({ state: "failed" });
      }
    };
    timer = setTimeout(ask, EVERY);
    return () => {
      stop.abort();
      clearTimeout(timer);
    };
  }, [at, router]);
  if (told.state === "failed") return <NotCounted />;
  return (
    <div className="sheet grid gap-3 px-6 py-8" role="status">
      <p>{words}</p>
      <progress
        className="progress progress-primary w-full max-w-md"
        {...(told.state === "working" ? { value: told.done, max: told.of } : { value: 1, max: 1 })}
        aria-label="Done"
      />
    </div>
  );
}

export function NotCounted() {
  return (
    <div role="alert" className="alert alert-error">
      This could not be worked out. Load the page again.
    </div>
  );
}
