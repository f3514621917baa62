"use client";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { choices, take } from "./actions";

interface Offered {
  readonly id: string;
  readonly name: string;
  readonly taken: boolean;
}

/** What the other system has, asked for when somebody wants to see it: it may take a while. */
export function Choices({ portal, id }: { portal: string; id: string }) {
  const [found, setFound] = useState<readonly Offered[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const router = useRouter();
  const look = (): void =>
    start(async () => {
      const answer = await answered(choices(portal, id));
      setProblem(answer && !answer.ok ? answer.messages.join(" ") : null);
      if (answer?.ok && "objects" in answer) setFound(answer.objects);
    });
  const bring = (o: Offered): void =>
    start(async () => {
      const answer = await answered(take(portal, id, o.id, o.name));
      if (answer?.ok && "to" in answer) router.push(answer.to);
      else setProblem(answer && !answer.ok ? answer.messages.join(" ") : null);
    });
  return (
    <div className="grid gap-3">
      {problem && (
        <p role="alert" className="alert alert-error">
          {problem}
        </p>
      )}
      {found === null ? (
        <div>
          <button type="button" className="btn" disabled={busy} onClick={look}>
            {busy ? "Asking…" : "See what there is"}
          </button>
        </div>
      ) : (
        <ul className="divide-y divide-base-300">
          {found.length === 0 && <li className="quiet py-2">There is nothing that this user may read.</li>}
          {found.map((o) => (
            <li key={o.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
              <span className="break-all">{o.name}</span>
              {o.taken ? (
                <span className="quiet text-sm">Comes in already</span>
              ) : (
                <button type="button" className="btn btn-sm" disabled={busy} onClick={() => bring(o)} aria-label={`Bring ${o.name} in`}>
                  {busy ? "Reading…" : "Bring it in"}
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
