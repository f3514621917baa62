"use client";
import { useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { makeStanding } from "../../standing";

export function MakeStanding({ portal, personId, name, there }: { portal: string; personId: string; name: string; there: boolean }) {
  const [link, setLink] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const make = (): void =>
    start(async () => {
      const answer = await answered(makeStanding(portal, personId));
      if (!answer) return;
      setLink(answer.ok ? answer.link : null);
      setProblem(answer.ok ? null : answer.message);
    });
  return (
    <div className="grid gap-2">
      <div>
        <button type="button" className="btn btn-sm" disabled={busy} onClick={make}>
          {there || link ? "Make another; the present one ends" : `Make a standing link for ${name}`}
        </button>
      </div>
      {problem && (
        <p role="alert" className="alert alert-error">
          {problem}
        </p>
      )}
      {link && (
        <label className="grid gap-1">
          <span className="field-label mb-0!">It is shown this once.</span>
          <input readOnly className="input w-full font-mono text-sm" value={link} onFocus={(e) => e.target.select()} />
        </label>
      )}
    </div>
  );
}
