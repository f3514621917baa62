"use client";
/** Undo and redo on the draft, by button or by the keys that every editor has. */
import { Redo2, Undo2 } from "lucide-react";
import { useCallback, useEffect, useTransition } from "react";
import { toast } from "sonner";
import type { PartName } from "@/core/definition/definition";
import { answered } from "@/ui/answered";
import { stepDraft } from "../actions";

/** What was done to the draft, with undo and redo. */
export function DraftSteps({
  portal,
  revision,
  undo,
  redo,
  parts = null,
}: {
  portal: string;
  revision: number;
  undo: string | null;
  redo: string | null;
  /** Parts of the definition that this room changes; the whole draft where none are named. */
  parts?: readonly PartName[] | null;
}) {
  const [busy, start] = useTransition();
  const go = useCallback(
    (by: -1 | 1) =>
      start(async () => {
        const answer = await answered(stepDraft(portal, revision, by, parts));
        if (!answer) return;
        if (!answer.ok) toast.error(answer.messages.join(" "));
      }),
    [portal, revision, parts],
  );
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement;
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z" || /^(INPUT|TEXTAREA|SELECT)$/.test(at.tagName)) return;
      if (e.shiftKey ? !redo : !undo) return;
      e.preventDefault();
      go(e.shiftKey ? 1 : -1);
    };
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, [go, undo, redo]);
  if (!undo && !redo) return null;
  return (
    <div className="flex gap-2">
      <button
        type="button"
        className="btn btn-sm"
        disabled={!undo || busy}
        onClick={() => go(-1)}
        title={undo ? `Undo ${undo}` : undefined}
      >
        <Undo2 size={15} aria-hidden /> Undo
      </button>
      <button type="button" className="btn btn-sm" disabled={!redo || busy} onClick={() => go(1)} title={redo ? `Redo ${redo}` : undefined}>
        <Redo2 size={15} aria-hidden /> Redo
      </button>
    </div>
  );
}
