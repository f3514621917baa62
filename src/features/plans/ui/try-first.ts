"use client";
/** A change of the draft that is tried at once: what was wrong with it is said beside it. */
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import type { DraftAnswer } from "@/office/draft";
import { answered } from "@/ui/answered";

export function useTried(): { problem: string; busy: boolean; attempt: (change: () => Promise<DraftAnswer>, then?: () => void) => void } {
  const router = useRouter();
  const [problem, setProblem] = useState("");
  const [busy, start] = useTransition();
  const attempt = (change: () => Promise<DraftAnswer>, then?: () => void): void =>
    start(async () => {
      const answer = await answered(change());
      if (!answer) return;
      setProblem(answer.ok ? "" : answer.messages.join(" "));
      if (!answer.ok) return;
      then?.();
      router.refresh();
    });
  return { problem, busy, attempt };
}
