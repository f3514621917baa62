"use client";
/** Takes a record away. Where others point to it that is said first; it can be had back from the office's bin. */
import { Trash2 } from "lucide-react";
import { useState, useTransition } from "react";
import { answerOf } from "@/ui/answered";
import { sayBelow } from "@/ui/forms/said-below";
import { useWords } from "@/ui/words";
import { removeInPortal } from "../../records/act-actions";

interface Props {
  table: string;
  record: string;
  name: string;
  acting: string;
  seen: string;
  closed: boolean;
}

export function RemoveButton({ table, record, name, acting, seen, closed }: Props) {
  const words = useWords();
  const [asked, setAsked] = useState(false);
  const [busy, start] = useTransition();
  const press = (): void =>
    start(async () => {
      const answer = await answerOf(removeInPortal({ table, record, acting, seen }));
      if (answer && !answer.ok) sayBelow({ words: answer.message, tone: "trouble" });
      if (!answer) sayBelow({ words: words["answer.none"], tone: "trouble" });
    });
  if (!asked)
    return (
      <button type="button" className="btn btn-ghost btn-sm" disabled={closed} onClick={() => setAsked(true)}>
        <Trash2 size={14} aria-hidden /> {words["remove.ask"]}
      </button>
    );
  return (
    <fieldset aria-label={words["remove.ask"]} className="flex flex-wrap items-center gap-2">
      <span className="text-sm">{`${name}: ${words["remove.sure"]}`}</span>
      <button type="button" className="btn btn-error btn-sm" disabled={busy} onClick={press}>
        {words["remove.do"]}
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => setAsked(false)}>
        {words["form.cancel"]}
      </button>
    </fieldset>
  );
}
