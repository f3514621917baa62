"use client";
/** Asks again and again, at first often, until the payment is known; the page is then made anew. */
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { lookAgain } from "../actions";

/** Milliseconds between one question and the next; the last goes on. */
const WAITS = [400, 800, 1_500, 1_500, 2_500, 2_500, 4_000];

export function WaitForIt({ id, sign, words }: { id: string; sign: string; words: { again: string } }) {
  const router = useRouter();
  const [asked, setAsked] = useState(0);
  useEffect(() => {
    const timer = setTimeout(
      async () => {
        const said = await lookAgain(id, sign).catch(() => "waits" as const);
        if (said === "done") router.refresh();
        else setAsked((n) => n + 1);
      },
      WAITS[Math.min(asked, WAITS.length - 1)],
    );
    return () => clearTimeout(timer);
  }, [asked, id, sign, router]);
  return (
    <div className="flex items-center gap-4">
      <span className="loading loading-dots" aria-hidden />
      <button type="button" className="btn btn-sm" onClick={() => setAsked((n) => n + 1)}>
        {words.again}
      </button>
    </div>
  );
}
