"use client";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { turn } from "../../shaping";

interface Props {
  portal: string;
  at: string;
  id: string;
  /** What the relation on the other side would be called. */
  proposed: string;
  other: string;
  links: string;
  /** Names of records that several point to. */
  shared: string[];
  /** Whether records hold so many that the relation had better be turned round. */
  many: boolean;
}

export function TurnRound({ portal, at, id, proposed, other, links, shared, many }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [name, setName] = useState(proposed);
  const [message, setMessage] = useState<string | null>(null);
  const act = (): void =>
    start(async () => {
      const answer = await answered(turn(portal, id, name));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      if (answer.ok) router.push(`${at}/data`);
    });
  return (
    <section className="sheet grid max-w-3xl gap-3 p-6" aria-label="The other way round">
      <h2>The other way round</h2>
      <p className={many ? "text-accent" : "quiet"}>
        It holds {links} links{many && ": so many are better kept on the other side"}. Turned round, each of {other} says itself what it
        belongs to; this field is put away.
      </p>
      {shared.length > 0 ? (
        <p>Some are pointed to by several, and could say one of them only: {shared.join(", ")}.</p>
      ) : (
        <div className="flex flex-wrap items-end gap-3">
          <label className="grid gap-1 text-sm">
            <span className="quiet">The new field of {other}</span>
            <input className="input input-sm w-52" value={name} onChange={(e) => setName(e.target.value)} />
          </label>
          <button type="button" className="btn btn-sm" disabled={busy || name.trim() === ""} onClick={act}>
            Turn it round
          </button>
        </div>
      )}
      {message && (
        <p role="alert" className="field-error">
          {message}
        </p>
      )}
    </section>
  );
}
