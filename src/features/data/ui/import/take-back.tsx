"use client";
/** Takes a whole import back. Where somebody has worked with it since, it says what would be lost, and asks. */
import { Undo2 } from "lucide-react";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import type { Losses } from "@/data/imports/undo";
import { answered } from "@/ui/answered";
import { takeBack } from "../../imports";

interface Props {
  portal: string;
  importId: string;
  locale: string;
}

export function TakeBack({ portal, importId, locale }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [losses, setLosses] = useState<Losses | null>(null);
  const n = (x: number): string => x.toLocaleString(locale);
  const act = (leave: boolean): void =>
    start(async () => {
      const answer = await answered(takeBack(portal, importId, leave));
      if (!answer) return;
      if (!answer.ok) {
        setLosses(answer.losses);
        if (!answer.losses) toast.error(answer.message);
        return;
      }
      setLosses(null);
      toast.success(
        `Taken back: ${n(answer.removed)} removed, ${n(answer.restored)} as before${answer.left > 0 ? `, ${n(answer.left)} left as they are` : ""}.`,
      );
      router.refresh();
    });
  return (
    <div className="grid justify-items-start gap-3">
      <button type="button" className="btn btn-sm" disabled={busy} onClick={() => act(false)}>
        {busy ? <span className="loading loading-spinner loading-xs" aria-hidden /> : <Undo2 size={15} aria-hidden />}
        Take this import back
      </button>
      {losses && (
        <div role="alert" className="alert alert-warning alert-soft grid justify-items-start gap-2">
          <p className="font-medium">Somebody has worked with it since. Taking back all of it would lose:</p>
          <ul className="list-disc pl-5">
            {losses.touched > 0 && (
              <li>changes to {losses.touched === 1 ? "one of its records" : `${n(losses.touched)} of its records`}</li>
            )}
            {losses.pointing > 0 && <li>what points to {losses.pointing === 1 ? "one of them" : `${n(losses.pointing)} of them`} now</li>}
            {losses.signedIn > 0 && <li>{losses.signedIn === 1 ? "a person who has" : `${n(losses.signedIn)} people who have`} been in</li>}
            {losses.others > 0 && (
              <li>{losses.others === 1 ? "one value" : `${n(losses.others)} values`} or records that came later into what it made</li>
            )}
          </ul>
          {losses.names.length > 0 && <p className="quiet">{losses.names.slice(0, 8).join(", ")}</p>}
          <button type="button" className="btn btn-sm" disabled={busy} onClick={() => act(true)}>
            Leave those, take the rest back
          </button>
        </div>
      )}
    </div>
  );
}
