"use client";
/** Stands where something is still being worked out: shows how far it is and, once it is there, has the page drawn anew. */
import { useRouter } from "next/navigation";
import { usePolled } from "./use-polled";

interface Props {
  /** Address that tells how far the work is. */
  at: string;
  words: string;
}

export function Progress({ at, words }: Props) {
  const router = useRouter();
  const told = usePolled<{ state: "ready" }>(at, { every: 400, late: true, onReady: () => router.refresh() });
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
