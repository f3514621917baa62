"use client";
/** Does an act with one record. What was done is said at the foot of the page, with the way back. */
import { useTransition } from "react";
import { answerOf } from "@/ui/answered";
import { sayBelow } from "@/ui/forms/said-below";
import { useWords } from "@/ui/words";
import { doActInPortal, takeBack } from "../records/act-actions";

interface Props {
  act: string;
  name: string;
  /** The same for who cannot see beside what the button stands. */
  about: string;
  record: string;
  acting: string;
  /** Staff who see the portal as somebody else see the button and cannot press it. */
  closed: boolean;
  first: boolean;
  /** Beside other buttons of a page, rather than in a row of a list. */
  large?: boolean;
}

export function ActButton({ act, name, about, record, acting, closed, first, large = false }: Props) {
  const words = useWords();
  const [busy, start] = useTransition();
  const press = (): void =>
    start(async () => {
      const answer = await answerOf(doActInPortal(act, record, acting));
      if (!answer) return sayBelow({ words: words["answer.none"], tone: "trouble" });
      if (!answer.ok) return sayBelow({ words: answer.message, tone: "trouble" });
      const { event, said } = answer;
      sayBelow({
        words: said,
        tone: "good",
        undo: async () => {
          const back = await answerOf(takeBack(event));
          return back?.message ?? words["answer.none"];
        },
      });
    });
  return (
    <button
      type="button"
      className={`btn ${large ? "btn-sm" : "btn-xs"} ${first ? "btn-primary" : ""}`}
      aria-label={about}
      disabled={busy || closed}
      onClick={press}
    >
      {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
      {name}
    </button>
  );
}
