"use client";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { disconnect } from "./actions";

export function Disconnect({ portal, id, name, list }: { portal: string; id: string; name: string; list: string }) {
  const [sure, setSure] = useState(false);
  const [busy, start] = useTransition();
  const router = useRouter();
  const run = (): void =>
    start(async () => {
      const answer = await answered(disconnect(portal, id));
      if (answer?.ok) router.push(list);
      else if (answer) toast.error(answer.messages.join(" "));
    });
  if (!sure)
    return (
      <button type="button" className="btn btn-ghost" onClick={() => setSure(true)}>
        Disconnect
      </button>
    );
  return (
    <div className="grid max-w-md gap-2">
      <p className="text-sm">Its records stay, and are read no more. Passwords that were kept for it are removed.</p>
      <div className="flex gap-2">
        <button type="button" className="btn btn-error" disabled={busy} onClick={run}>
          Disconnect {name}
        </button>
        <button type="button" className="btn" onClick={() => setSure(false)}>
          Keep it
        </button>
      </div>
    </div>
  );
}
