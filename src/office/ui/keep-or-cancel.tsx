"use client";
/** How a form of the back office that was opened in place ends: what is wrong with it, and the two ways out. */

interface Props {
  /** What was refused, or null. */
  problem: string | null;
  busy: boolean;
  keep: () => void;
  cancel: () => void;
}

/** The two buttons of an editor, and what stands against keeping. */
export function KeepOrCancel({ problem, busy, keep, cancel }: Props) {
  return (
    <>
      {problem && (
        <p role="alert" className="field-error">
          {problem}
        </p>
      )}
      <div className="flex gap-3">
        <button type="button" className="btn btn-primary btn-sm" disabled={busy} onClick={keep}>
          Keep in the draft
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={cancel}>
          Cancel
        </button>
      </div>
    </>
  );
}
