"use client";
/** A notice that whoever read it may put away; remembered on this device alone. */
import { type ReactNode, useEffect, useState } from "react";
import { useWords } from "@/ui/words";

export function Dismissible({ id, look, children }: { id: string; look: string; children: ReactNode }) {
  const words = useWords();
  const [gone, setGone] = useState(false);
  const key = `elkhorn-notice ${id}`;
  useEffect(() => {
    if (localStorage.getItem(key) !== null) setGone(true);
  }, [key]);
  if (gone) return null;
  return (
    <div role="note" className={look}>
      <span>{children}</span>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        onClick={() => {
          localStorage.setItem(key, "1");
          setGone(true);
        }}
      >
        {words["notice.away"]}
      </button>
    </div>
  );
}
