"use client";
import { useRouter } from "next/navigation";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { sendMessages } from "../../inviting";

interface Props {
  portal: string;
  ids: string[];
  /** All of one act, where it is named. */
  batch: string | null;
  words: string;
}

export function SendReady({ portal, ids, batch, words }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const act = (): void =>
    start(async () => {
      const done = await answered(sendMessages(portal, ids, batch));
      if (!done) return;
      toast.success(done.sent === 1 ? "It is on its way." : `${done.sent} are on their way.`);
      router.refresh();
    });
  return (
    <button type="button" className="btn btn-primary btn-sm" disabled={busy} onClick={act}>
      {words}
    </button>
  );
}
