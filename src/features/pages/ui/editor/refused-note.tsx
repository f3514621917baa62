"use client";
/** Why what is typed is not kept in the draft. It stays where it was typed. */

export interface Refused {
  readonly messages: readonly string[];
  /** Somebody else changed the same section, or the same page, meanwhile. */
  readonly stale: boolean;
  /** Puts what is typed over what is there now. */
  readonly again: () => void;
}

export function RefusedNote({ refusal, onLeave }: { refusal: Refused; onLeave: () => void }) {
  const { messages, stale, again } = refusal;
  return (
    <div role="alert" className="alert alert-warning alert-soft mb-3 grid justify-items-start gap-2 text-sm">
      <p>
        {stale
          ? "Somebody else changed this meanwhile. What you chose is still here, and not in the draft."
          : messages.length > 0
            ? `${messages.join(" ")} It is not in the draft yet.`
            : "This is not in the draft yet."}
      </p>
      {(stale || messages.length === 0) && (
        <div className="flex flex-wrap gap-2">
          <button type="button" className="btn btn-xs" onClick={again}>
            {stale ? "Put mine over it" : "Try again"}
          </button>
          {stale && (
            <button type="button" className="btn btn-ghost btn-xs" onClick={onLeave}>
              Take theirs
            </button>
          )}
        </div>
      )}
    </div>
  );
}
