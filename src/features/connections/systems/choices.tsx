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
export function Choices({ portal, id, filters }: { portal: string; id: string; filters: boolean }) {
  const [column, setColumn] = useState("");
  const [values, setValues] = useState("");
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
      const listed = values
        .split(";")
        .map((v) => v.trim())
        .filter(Boolean);
      const only = column.trim() && listed.length > 0 ? { column: column.trim(), values: listed } : null;
      const answer = await answered(take(portal, id, o.id, o.name, only));
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
        <>
          {filters && found.length > 0 && (
            <details>
              <summary className="link-plain cursor-pointer">Only some of the rows</summary>
              <div className="mt-2 grid gap-3 sm:grid-cols-2">
                <label className="grid gap-1">
                  <span className="field-label">Column there</span>
                  <input className="input w-full" value={column} maxLength={100} onChange={(e) => setColumn(e.target.value)} />
                </label>
                <label className="grid gap-1">
                  <span className="field-label">Holds one of these, with semicolons between</span>
                  <input className="input w-full" value={values} maxLength={2_000} onChange={(e) => setValues(e.target.value)} />
                </label>
              </div>
            </details>
          )}
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
        </>
      )}
    </div>
  );
}
