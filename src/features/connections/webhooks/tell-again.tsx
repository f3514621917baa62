"use client";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { tellAgain } from "./actions";

export function TellAgain({ portal, hook, send }: { portal: string; hook: string; send: string }) {
  const [busy, start] = useTransition();
  const run = (): void =>
    start(async () => {
      const answer = await answered(tellAgain(portal, hook, send));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      else if (answer) toast("It goes out again.");
    });
  return (
    <div>
      <button type="button" className="btn btn-sm" disabled={busy} onClick={run}>
        Send it again
      </button>
    </div>
  );
}
