"use client";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { UndoableButton } from "@/ui/undoable-button";
import { bringKeyBack, endKey, removeKey } from "./actions";

interface Props {
  portal: string;
  id: string;
  name: string;
  ended: boolean;
  /** What ended by its day does not come back: another is made. */
  byHand: boolean;
}

export function KeyButtons({ portal, id, name, ended, byHand }: Props) {
  const [busy, start] = useTransition();
  const run = (act: typeof removeKey): void =>
    start(async () => {
      const answer = await answered(act(portal, id));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
    });
  if (!ended)
    return (
      <UndoableButton
        act={() => endKey(portal, id)}
        undo={(what) => bringKeyBack(portal, what)}
        done={`${name} opens nothing any more.`}
        label={`End the key ${name}`}
      >
        End
      </UndoableButton>
    );
  return (
    <>
      {byHand && (
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          disabled={busy}
          onClick={() => run(bringKeyBack)}
          aria-label={`Bring the key ${name} back`}
        >
          Bring back
        </button>
      )}
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={busy}
        onClick={() => run(removeKey)}
        aria-label={`Remove the key ${name}`}
      >
        Remove
      </button>
    </>
  );
}
