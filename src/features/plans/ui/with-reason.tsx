"use client";
/** The end of every act with money: why, the button that does it, a way back, and what stood in its way. */
interface Props {
  reason: string;
  onReason: (reason: string) => void;
  hint?: string;
  does: string;
  busy: boolean;
  onDo: () => void;
  /** Absent where another button closes the form. */
  onCancel?: () => void;
  problem: string | null;
}

export function WithReason({ reason, onReason, hint, does, busy, onDo, onCancel, problem }: Props) {
  return (
    <>
      <label className="grid grow gap-1 font-medium">
        Why
        <input
          className="input input-sm w-full min-w-40"
          placeholder={hint}
          maxLength={200}
          value={reason}
          onChange={(e) => onReason(e.target.value)}
        />
      </label>
      <button type="button" className="btn btn-primary btn-sm" disabled={busy} onClick={onDo}>
        {does}
      </button>
      {onCancel && (
        <button type="button" className="btn btn-ghost btn-sm" onClick={onCancel}>
          Cancel
        </button>
      )}
      {problem && (
        <p role="alert" className="field-error w-full">
          {problem}
        </p>
      )}
    </>
  );
}
