"use client";
import { useState, useTransition } from "react";
import type { Wall } from "@/core/access/rules";
import { answered } from "@/ui/answered";
import { setWall } from "../actions";

export function WallPicker({
  portal,
  tableId,
  name,
  revision,
  current,
  choices,
}: {
  portal: string;
  tableId: string;
  name: string;
  revision: number;
  current: string;
  choices: { wall: Wall; words: string }[];
}) {
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, start] = useTransition();
  return (
    <span className="grid gap-1">
      <select
        aria-label={`Wall of ${name}`}
        className="select select-sm h-auto! w-full max-w-full whitespace-normal py-1"
        value={choices.findIndex((c) => JSON.stringify(c.wall) === current)}
        disabled={busy}
        onChange={(e) =>
          start(async () => {
            const answer = await answered(setWall(portal, tableId, choices[Number(e.target.value)]!.wall, revision));
            if (!answer) return;
            setProblem(answer.ok ? null : answer.messages.join(" "));
          })
        }
      >
        {choices.map((c, i) => (
          <option key={JSON.stringify(c.wall)} value={i}>
            {c.words}
          </option>
        ))}
      </select>
      {problem && (
        <span role="alert" className="field-error">
          {problem}
        </span>
      )}
    </span>
  );
}
