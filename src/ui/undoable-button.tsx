"use client";
import { type ReactNode, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "./answered";

type Refused = { ok: false; messages: string[] };
/** What an act answers that can be taken back; `undo` is what taking it back needs. */
export type Undoable = { ok: true; undo: string } | Refused;

interface Props {
  act: () => Promise<Undoable>;
  undo: (what: string) => Promise<{ ok: true } | Refused>;
  /** Said once it is done, with the way back beside it. */
  done: string;
  /** For whoever does not see what the button stands beside. */
  label?: string;
  children: ReactNode;
}

const refused = (answer: Refused): unknown => toast.error(answer.messages.join(" "));

/** Done at once, without asking first, and taken back from the notice that says so. */
export function UndoableButton({ act, undo, done, label, children }: Props) {
  const [busy, start] = useTransition();
  const takeBack = (what: string): void =>
    start(async () => {
      const answer = await answered(undo(what));
      if (answer && !answer.ok) refused(answer);
    });
  const run = (): void =>
    start(async () => {
      const answer = await answered(act());
      if (!answer) return;
      if (!answer.ok) refused(answer);
      else toast(done, { duration: 15_000, action: { label: "Undo", onClick: () => takeBack(answer.undo) } });
    });
  return (
    <button type="button" className="btn btn-ghost btn-sm" onClick={run} disabled={busy} aria-label={label}>
      {children}
    </button>
  );
}
