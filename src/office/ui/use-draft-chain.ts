"use client";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import type { DraftAnswer } from "../draft";

export interface DraftChain {
  readonly busy: boolean;
  readonly run: (act: (revision: number) => Promise<DraftAnswer>) => void;
}

/**
 * Changes of the draft one after the other, each going on from what the one before left. Nothing has to be shut meanwhile: leaving a field
 * keeps it, and the press that left it is done after that.
 */
export function useDraftChain(revision: number): DraftChain {
  const seen = useRef(revision);
  seen.current = Math.max(seen.current, revision);
  const chain = useRef<Promise<unknown>>(Promise.resolve());
  const [waiting, setWaiting] = useState(0);
  const run: DraftChain["run"] = (act) => {
    setWaiting((n) => n + 1);
    const next = chain.current.then(async () => {
      try {
        const answer = await answered(act(seen.current));
        if (answer?.ok && answer.revision) seen.current = answer.revision;
        if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      } finally {
        setWaiting((n) => n - 1);
      }
    });
    // A change that fails does not keep those after it from being made.
    chain.current = next.catch(() => undefined);
  };
  return { busy: waiting > 0, run };
}
