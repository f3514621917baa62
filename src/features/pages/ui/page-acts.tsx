"use client";
/** What can be done with a page in the list of pages. */
import { useTransition } from "react";
import { toast } from "sonner";
import type { DraftAnswer } from "@/office/draft";
import { answered } from "@/ui/answered";
import { bringPageBack, makeCopy } from "../actions";

export function PageActs({
  portal,
  revision,
  page,
  name,
  back = false,
}: {
  portal: string;
  revision: number;
  page: string;
  name: string;
  back?: boolean;
}) {
  const [busy, start] = useTransition();
  const run = (act: Promise<DraftAnswer>): void =>
    start(async () => {
      const answer = await answered(act);
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
    });
  return back ? (
    <button type="button" className="link-plain min-h-6" disabled={busy} onClick={() => run(bringPageBack(portal, revision, page))}>
      Bring {name} back
    </button>
  ) : (
    <button
      type="button"
      className="btn btn-ghost btn-xs"
      disabled={busy}
      aria-label={`Copy the page ${name}`}
      onClick={() => run(makeCopy(portal, revision, page))}
    >
      Copy
    </button>
  );
}
