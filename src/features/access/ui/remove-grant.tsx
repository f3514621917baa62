"use client";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { removeGrant, restoreGrant } from "../actions";

/** Removed from the draft at once, with a way back. */
export function RemoveGrant({ portal, id, revision }: { portal: string; id: string; revision: number }) {
  const [busy, start] = useTransition();
  const remove = () =>
    start(async () => {
      const answer = await answered(removeGrant(portal, id, revision));
      if (!answer) return;
      if (!answer.ok) toast.error(answer.messages.join(" "));
      else
        toast("The grant is out of the draft.", {
          duration: 15_000,
          action: { label: "Undo", onClick: () => start(async () => void (await answered(restoreGrant(portal, answer.grant)))) },
        });
    });
  return (
    <button type="button" className="btn btn-ghost btn-sm" onClick={remove} disabled={busy}>
      Remove
    </button>
  );
}
