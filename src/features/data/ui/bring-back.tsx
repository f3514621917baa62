"use client";
import { Undo2 } from "lucide-react";
import { useRouter } from "next/navigation";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { undoRemove } from "../actions";
import { actOnTable } from "../shaping";

export function BringBack({ portal, id, name }: { portal: string; id: string; name: string }) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const act = (): void =>
    start(async () => {
      const answer = await answered(undoRemove(portal, id));
      if (!answer) return;
      if (answer.ok) toast.success(`${name} is back.`);
      else toast.error(answer.message, { duration: 15_000 });
      router.refresh();
    });
  return (
    <button type="button" className="btn btn-sm" disabled={busy} onClick={act} aria-label={`Bring ${name} back`}>
      <Undo2 size={14} aria-hidden /> Bring back
    </button>
  );
}

export function TableAway({ portal, id, name }: { portal: string; id: string; name: string }) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const act = (what: "back" | "remove"): void =>
    start(async () => {
      const answer = await answered(actOnTable(portal, id, what));
      if (!answer) return;
      if (!answer.ok) toast.error(answer.message, { duration: 15_000 });
      else if (what === "back" && answer.value) toast(`${name} is back. ${answer.value}`, { duration: 15_000 });
      router.refresh();
    });
  return (
    <span className="flex items-center gap-2">
      <button type="button" className="btn btn-sm" disabled={busy} onClick={() => act("back")}>
        <Undo2 size={14} aria-hidden /> Bring {name} back
      </button>
      <details className="text-sm">
        <summary className="link-plain cursor-pointer">Remove for good…</summary>
        <button type="button" className="btn btn-error btn-sm mt-2" disabled={busy} onClick={() => act("remove")}>
          Remove {name} and all its records for good
        </button>
      </details>
    </span>
  );
}
