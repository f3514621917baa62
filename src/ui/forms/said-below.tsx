"use client";
/** One sentence at the foot of the page about what was just done, with the way back while it can be gone. */
import { useCallback, useEffect, useRef, useState } from "react";
import { returnFrom, toUndo } from "../focus-undo";
import { useWords } from "../words";

export interface Said {
  readonly words: string;
  readonly tone: "good" | "trouble";
  /** Takes it back; says in the end what came of that. */
  readonly undo?: () => Promise<string>;
}

const NAME = "elkhorn-said";
/** Has a sentence said at the foot of the page. */
export const sayBelow = (said: Said): void => void window.dispatchEvent(new CustomEvent(NAME, { detail: said }));

const STAYS_MS = 20_000;

/** Where sentences are said that belong to no place on the page. */
export function SaidBelow() {
  const words = useWords();
  const [said, setSaid] = useState<Said | null>(null);
  const [busy, setBusy] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const box = useRef<HTMLParagraphElement>(null);
  const undo = useRef<HTMLButtonElement>(null);
  const before = useRef<Element | null>(null);
  const hide = useCallback((): void => {
    returnFrom(box.current, before.current);
    setSaid(null);
  }, []);
  useEffect(() => {
    const listen = (e: Event): void => {
      clearTimeout(timer.current);
      setSaid((e as CustomEvent<Said>).detail);
      setBusy(false);
      timer.current = setTimeout(hide, STAYS_MS);
    };
    window.addEventListener(NAME, listen);
    return () => {
      window.removeEventListener(NAME, listen);
      clearTimeout(timer.current);
    };
  }, [hide]);
  useEffect(() => {
    if (said?.undo && undo.current) before.current = toUndo(undo.current);
  }, [said]);
  const back = async (): Promise<void> => {
    setBusy(true);
    sayBelow({ words: (await said!.undo!()) || words["said.back"], tone: "good" });
  };
  return (
    <div role="status" aria-live="polite" className="pointer-events-none fixed inset-x-0 bottom-4 z-50 flex justify-center px-4">
      {said && (
        <p
          ref={box}
          className={`pointer-events-auto flex items-center [--focus:currentColor] gap-4 rounded-box px-4 py-2.5 shadow-lg ${said.tone === "good" ? "bg-neutral text-neutral-content" : "bg-error text-error-content"}`}
        >
          {said.words}
          {said.undo && (
            <button
              ref={undo}
              type="button"
              className="min-h-6 cursor-pointer font-semibold underline underline-offset-3"
              disabled={busy}
              onClick={back}
            >
              {words["said.undo"]}
            </button>
          )}
          <button type="button" className="min-h-6 min-w-6 cursor-pointer" aria-label={words["said.close"]} onClick={hide}>
            ×
          </button>
        </p>
      )}
    </div>
  );
}
