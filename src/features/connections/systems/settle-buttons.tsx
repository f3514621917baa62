"use client";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { settleIt, tryNow } from "./actions";

/** Decides about one value that both sides changed. */
export function SettleButtons({ portal, n, of, system }: { portal: string; n: number; of: string; system: string }) {
  const [busy, start] = useTransition();
  const say = (stays: "ours" | "theirs"): void =>
    start(async () => {
      const answer = await answered(settleIt(portal, n, stays));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      else if (answer) toast(stays === "ours" ? `What stands here goes to ${system}.` : `What stands in ${system} comes in.`);
    });
  return (
    <div className="flex flex-wrap gap-2">
      <button
        type="button"
        className="btn btn-sm"
        disabled={busy}
        onClick={() => say("ours")}
        aria-label={`Keep what stands here for ${of}`}
      >
        Keep ours
      </button>
      <button
        type="button"
        className="btn btn-sm"
        disabled={busy}
        onClick={() => say("theirs")}
        aria-label={`Take what stands in ${system} for ${of}`}
      >
        Take theirs
      </button>
    </div>
  );
}

export function TryNow({ portal, id }: { portal: string; id: string }) {
  const [busy, start] = useTransition();
  const run = (): void =>
    start(async () => {
      const answer = await answered(tryNow(portal, id));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      else if (answer) toast("They are being sent.");
    });
  return (
    <button type="button" className="btn btn-sm" disabled={busy} onClick={run}>
      Try them now
    </button>
  );
}
