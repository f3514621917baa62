"use client";
/**
 * Stands where something is still being worked out: shows how far it is and, once it is there, has the page drawn anew. Under somebody
 * who is typing it only offers that: should the session have ended meanwhile, drawing anew leads to the sign-in and takes the words away.
 */
import { useRouter } from "next/navigation";
import { useState } from "react";
import { somethingIsTyped } from "./forms/typed";
import { usePolled } from "./use-polled";

interface Props {
  /** Address that tells how far the work is. */
  at: string;
  words: string;
}

/** How far work is that goes on, in words and as a bar. */
export function Progress({ at, words }: Props) {
  const router = useRouter();
  const [offered, setOffered] = useState(false);
  const onReady = (): void => (somethingIsTyped(document) ? setOffered(true) : router.refresh());
  const told = usePolled<{ state: "ready" }>(at, { every: 400, late: true, onReady });
  if (told.state === "failed") return <NotCounted />;
  if (offered)
    return (
      <div className="sheet flex flex-wrap items-center gap-3 px-6 py-4" role="status">
        <p>It has been worked out.</p>
        <button type="button" className="btn btn-sm" onClick={() => router.refresh()}>
          Show it
        </button>
      </div>
    );
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

/** Stands where something could not be worked out. */
export function NotCounted() {
  return (
    <div role="alert" className="alert alert-error">
      This could not be worked out. Load the page again.
    </div>
  );
}
