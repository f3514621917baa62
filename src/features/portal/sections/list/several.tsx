"use client";
/** Acts with several records at once. Boxes stand beside the rows; here is what is done with those that are chosen. */
import { useEffect, useRef, useState, useTransition } from "react";
import { answerOf } from "@/ui/answered";
import { sayBelow } from "@/ui/forms/said-below";
import { useWords } from "@/ui/words";
import { doSeveral, takeSeveralBack } from "../../records/list-actions";

interface Props {
  /** What its boxes belong to. */
  form: string;
  label: string;
  acting: string;
  acts: readonly { readonly id: string; readonly name: string }[];
  closed: boolean;
}

const NOBODY: readonly string[] = [];

export function Several({ form, label, acting, acts, closed }: Props) {
  const words = useWords();
  const at = useRef<HTMLFormElement>(null);
  const [chosen, setChosen] = useState(NOBODY);
  const [busy, start] = useTransition();
  const boxes = (): HTMLInputElement[] =>
    [...(at.current?.elements ?? [])].filter((e): e is HTMLInputElement => e instanceof HTMLInputElement && e.name === "record");
  useEffect(() => {
    const look = (): void => {
      const now = boxes().flatMap((b) => (b.checked ? [b.value] : []));
      setChosen((before) => (before.join() === now.join() ? before : now));
    };
    const listen = (e: Event): void => {
      if (e.target instanceof HTMLInputElement && e.target.form === at.current) look();
    };
    document.addEventListener("change", listen);
    look(); // after each drawing: rows come and go, and a browser keeps what was ticked before a page was left
    return () => document.removeEventListener("change", listen);
  });
  const all = (checked: boolean): void => {
    for (const b of boxes()) b.checked = checked;
    setChosen(checked ? boxes().map((b) => b.value) : NOBODY);
  };
  const press = (act: string): void =>
    start(async () => {
      const answer = await answerOf(doSeveral(act, chosen, acting));
      if (!answer) return sayBelow({ words: words["answer.none"], tone: "trouble" });
      all(false);
      const { events } = answer;
      const undo = async (): Promise<string> => (await answerOf(takeSeveralBack(events)))?.message ?? words["answer.none"];
      sayBelow({ words: answer.said, tone: answer.tone, ...(events.length > 0 ? { undo } : {}) });
    });
  return (
    <form
      id={form}
      ref={at}
      aria-label={label}
      className="flex flex-wrap items-center gap-3 border-b border-base-300/60 bg-base-200/40 px-4 py-2 text-sm"
      onSubmit={(e) => e.preventDefault()}
    >
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={chosen.length > 0 && chosen.length === boxes().length}
          onChange={(e) => all(e.target.checked)}
        />
        {words["several.all"]}
      </label>
      <span role="status" className="quiet tabular-nums">
        {chosen.length > 0 ? `${chosen.length} ${words["several.chosen"]}` : words["several.none"]}
      </span>
      {acts.map((a) => (
        <button
          key={a.id}
          type="button"
          className="btn btn-xs"
          disabled={chosen.length === 0 || busy || closed}
          onClick={() => press(a.id)}
        >
          {a.name}
        </button>
      ))}
    </form>
  );
}
