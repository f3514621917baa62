"use client";
/** Accepts a record in the version that stands on this very page. */
import { useTransition } from "react";
import { answerOf } from "@/ui/answered";
import { sayBelow } from "@/ui/forms/said-below";
import { useWords } from "@/ui/words";
import { acceptInPortal } from "../records/act-actions";

interface Props {
  act: string;
  name: string;
  record: string;
  seen: string;
  acting: string;
  closed: boolean;
}

export function AcceptButton({ act, name, record, seen, acting, closed }: Props) {
  const words = useWords();
  const [busy, start] = useTransition();
  const press = (): void =>
    start(async () => {
      const answer = await answerOf(acceptInPortal(act, record, seen, acting));
      if (!answer) return sayBelow({ words: words["answer.none"], tone: "trouble" });
      sayBelow(answer.ok ? { words: answer.said, tone: "good" } : { words: answer.message, tone: "trouble" });
    });
  return (
    <button type="button" className="btn btn-primary btn-sm" disabled={busy || closed} onClick={press}>
      {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
      {name}
    </button>
  );
}
