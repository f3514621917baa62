"use client";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { restoreSafeguard, withdrawSafeguard } from "../safeguard-actions";

/** Withdrawn from the draft at once, with a way back. */
export function WithdrawSafeguard({ portal, id, revision, sentence }: { portal: string; id: string; revision: number; sentence: string }) {
  const [busy, start] = useTransition();
  const withdraw = () =>
    start(async () => {
      const answer = await answered(withdrawSafeguard(portal, id, revision));
      if (!answer) return;
      if (!answer.ok) toast.error(answer.messages.join(" "));
      else
        toast("The safeguard is withdrawn from the draft.", {
          duration: 15_000,
          action: { label: "Undo", onClick: () => start(async () => void (await answered(restoreSafeguard(portal, answer.safeguard)))) },
        });
    });
  return (
    <button type="button" className="btn btn-ghost btn-sm" onClick={withdraw} disabled={busy} aria-label={`Withdraw: ${sentence}`}>
      Withdraw
    </button>
  );
}
