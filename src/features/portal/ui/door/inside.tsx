"use client";
/** In another site's frame the door is a tab of its own; anywhere else it is what stands inside. */
import { type ReactNode, useEffect, useState, useTransition } from "react";
import type { Begun } from "@/identity/sessions/framed";
import { useWords } from "@/ui/words";
import { askInside, beginInside } from "../../door/inside-actions";

const EVERY = 2_000;
const WAITS = 10 * 60_000;

export function Inside({ base, children }: { base: string; children: ReactNode }) {
  const words = useWords();
  const [framed, setFramed] = useState(false);
  const [begun, setBegun] = useState<Begun | null>(null);
  const [over, setOver] = useState(false);
  const [pending, start] = useTransition();
  useEffect(() => setFramed(window.self !== window.top), []);
  useEffect(() => {
    if (!begun) return;
    let stopped = false;
    const end = Date.now() + WAITS;
    const ask = async (): Promise<void> => {
      const told = Date.now() > end ? "over" : await askInside(begun.code, begun.secret).catch(() => "waits" as const);
      if (stopped) return;
      if (told === "in") return location.reload();
      if (told === "waits") return void setTimeout(ask, EVERY);
      setOver(true);
      setBegun(null);
    };
    const timer = setTimeout(ask, EVERY);
    return () => {
      stopped = true;
      clearTimeout(timer);
    };
  }, [begun]);
  if (!framed) return children;
  const open = (): void => {
    // Within the press itself, or it is blocked as a window that nobody asked for.
    const tab = window.open("about:blank", "_blank");
    setOver(false);
    start(async () => {
      const next = await beginInside().catch(() => null);
      if (!next) {
        tab?.close();
        return setOver(true);
      }
      setBegun(next);
      if (tab) tab.location.href = `${location.origin}${base}/-/inside/${next.code}`;
    });
  };
  return (
    <div className="grid gap-4">
      <p>{words["inside.lead"]}</p>
      {over && (
        <p role="alert" className="alert alert-error">
          {words["inside.over"]}
        </p>
      )}
      {begun ? (
        <div role="status">
          <p>{words["inside.number"]}</p>
          <p className="title my-2 text-4xl font-semibold tabular-nums">{begun.number}</p>
          <p className="quiet">{words["inside.waits"]}</p>
        </div>
      ) : (
        <div>
          <button type="button" className="btn btn-primary" onClick={open} disabled={pending}>
            {words["inside.open"]}
          </button>
        </div>
      )}
    </div>
  );
}
