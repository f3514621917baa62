"use client";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { actOnTable } from "../../shaping";

interface Props {
  portal: string;
  at: string;
  id: string;
  name: string;
  breaks: string[];
  follows: string[];
}

/** What hangs on the table is named before it goes. */
export function PutTableAway({ portal, at, id, name, breaks, follows }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [open, setOpen] = useState(false);
  const act = (): void =>
    start(async () => {
      const answer = await answered(actOnTable(portal, id, "away"));
      if (!answer) return;
      if (!answer.ok) {
        toast.error(answer.message, { duration: 15_000 });
        return;
      }
      toast(`${name} is put away. It stands under Data, from where it can be brought back.`, { duration: 15_000 });
      router.push(`${at}/data`);
      router.refresh();
    });
  if (!open)
    return (
      <button type="button" className="btn btn-ghost btn-sm justify-self-start" onClick={() => setOpen(true)}>
        Put this table away…
      </button>
    );
  return (
    <div className="sheet grid justify-items-start gap-3 p-5">
      {breaks.length > 0 ? (
        <>
          <p className="font-medium">{name} cannot go while something rests on it:</p>
          <ul className="list-disc pl-5">
            {breaks.map((b) => (
              <li key={b}>{b}</li>
            ))}
          </ul>
        </>
      ) : (
        <>
          <p className="font-medium">With {name} would go, and come back:</p>
          <ul className="list-disc pl-5">
            {follows.map((f) => (
              <li key={f}>{f}</li>
            ))}
          </ul>
          <p className="quiet">Grants go at once, for everybody, and are not brought back with it.</p>
        </>
      )}
      <div className="flex gap-3">
        {breaks.length === 0 && (
          <button type="button" className="btn btn-sm" disabled={busy} onClick={act}>
            Put {name} away
          </button>
        )}
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </div>
    </div>
  );
}
