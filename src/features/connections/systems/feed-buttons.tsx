"use client";
import { useRouter } from "next/navigation";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { pause, readIt, resume, stopReading } from "./actions";

interface Props {
  portal: string;
  id: string;
  name: string;
  mapped: boolean;
  paused: boolean;
}

export function FeedButtons({ portal, id, name, mapped, paused }: Props) {
  const [busy, start] = useTransition();
  const router = useRouter();
  const run = (act: typeof pause, done: string | null): void =>
    start(async () => {
      const answer = await answered(act(portal, id));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      else if (answer && done) toast(done);
    });
  const read = (): void =>
    start(async () => {
      const answer = await answered(readIt(portal, id));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      else {
        toast(`${name} is being read.`);
        setTimeout(() => router.refresh(), 2_000);
      }
    });
  return (
    <div className="flex flex-wrap gap-2">
      {mapped && !paused && (
        <button type="button" className="btn btn-primary btn-sm" disabled={busy} onClick={read}>
          Read it now
        </button>
      )}
      {mapped && (
        <button type="button" className="btn btn-sm" disabled={busy} onClick={() => run(paused ? resume : pause, null)}>
          {paused ? "Resume" : "Pause"}
        </button>
      )}
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={busy}
        onClick={() => run(stopReading, `${name} is read no more. Its records stay.`)}
        aria-label={`Stop reading ${name}`}
      >
        Stop
      </button>
    </div>
  );
}
