"use client";
import { useEffect, useRef } from "react";
import { Toaster } from "sonner";
import { toUndo } from "./focus-undo";

const ACT = "button[data-action]";

/** Where short notices appear, undo among them. */
export function Notices() {
  const here = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const shown = new MutationObserver((changes) => {
      for (const node of changes.flatMap((c) => [...c.addedNodes])) {
        const undo = node instanceof HTMLElement ? node.querySelector<HTMLElement>(ACT) : null;
        if (undo) toUndo(undo);
      }
    });
    shown.observe(here.current!, { childList: true, subtree: true });
    return () => shown.disconnect();
  }, []);
  return (
    <div ref={here} className="contents">
      <Toaster position="bottom-right" toastOptions={{ className: "font-sans" }} />
    </div>
  );
}
