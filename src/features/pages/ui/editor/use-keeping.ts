"use client";
/** How what is done in the editor gets into the draft: in order, what is typed once typing rests, and with what was refused of it. */
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import type { DraftAnswer } from "@/office/draft";
import { answered } from "@/ui/answered";
import type { Refused } from "./refused-note";

const KEEP_AFTER_MS = 500;
type Change = (revision: number) => Promise<DraftAnswer & { id?: string }>;

/** `onMade` is told the id of what a change makes. */
export function useKeeping(revision: number, onMade: (id: string) => void) {
  const router = useRouter();
  const [saving, setSaving] = useState(false);
  const [refusal, setRefusal] = useState<Refused | null>(null);
  const refused = useRef<Refused | null>(null);
  const seen = useRef(revision);
  seen.current = Math.max(seen.current, revision);

  // Changes are kept one after the other: each begins with what the one before left.
  const chain = useRef<Promise<unknown>>(Promise.resolve());
  const run = useCallback(
    (change: Change, typed = false): Promise<boolean> => {
      const next = chain.current.then(async () => {
        setSaving(true);
        const answer = await answered(change(seen.current));
        setSaving(false);
        if (answer?.ok && answer.revision) seen.current = answer.revision;
        // What was typed stays where it is, with what is wrong with it; anything else is told and over.
        const kept: Refused | null = answer?.ok
          ? null
          : { messages: answer?.messages ?? [], stale: answer?.stale ?? false, again: () => void run(change, true) };
        if (typed) {
          refused.current = kept;
          setRefusal(kept);
        } else if (answer && !answer.ok) toast.error(answer.messages.join(" "));
        if (answer?.ok && answer.id) onMade(answer.id);
        router.refresh();
        return answer?.ok ?? false;
      });
      chain.current = next.catch(() => undefined);
      return next;
    },
    [router, onMade],
  );
  const dismiss = (): void => {
    refused.current = null;
    setRefusal(null);
  };

  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const waiting = useRef<(() => void) | null>(null);
  const flush = useCallback((): void => {
    clearTimeout(timer.current);
    waiting.current?.();
    waiting.current = null;
  }, []);
  const later = (what: () => void): void => {
    clearTimeout(timer.current);
    waiting.current = what;
    timer.current = setTimeout(flush, KEEP_AFTER_MS);
  };
  // Whoever leaves within that half second has it kept all the same.
  useEffect(() => {
    window.addEventListener("pagehide", flush);
    return () => {
      window.removeEventListener("pagehide", flush);
      flush();
    };
  }, [flush]);
  /** Nothing typed is on its way, and none was refused. */
  const isIdle = useCallback((): boolean => waiting.current === null && refused.current === null, []);
  return { saving, refusal, run, later, flush, dismiss, isIdle };
}
