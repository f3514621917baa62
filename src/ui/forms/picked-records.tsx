"use client";
/** What a picker has chosen, and what it offers. */
import { X } from "lucide-react";
import type { Offered } from "@/core/schema/offered";
import type { ClientWords } from "@/ui/words";

interface ChosenRecordsProps {
  readonly chosen: readonly Offered[];
  readonly disabled: boolean | undefined;
  readonly said: ClientWords;
  readonly onChange: (chosen: Offered[]) => void;
}

/** What is chosen, each with a button to take it out. */
export function ChosenRecords({ chosen, disabled, said, onChange }: ChosenRecordsProps) {
  return (
    <span className="mb-1.5 flex flex-wrap gap-1.5">
      {chosen.map((c) => (
        <span key={c.value} className="tag inline-flex items-center gap-1">
          {c.label}
          {!disabled && (
            <button
              type="button"
              className="btn btn-ghost btn-square size-6!"
              aria-label={`${said["pick.remove"]} ${c.label}`}
              onClick={() => onChange(chosen.filter((x) => x.value !== c.value))}
            >
              <X size={12} aria-hidden />
            </button>
          )}
        </span>
      ))}
    </span>
  );
}

interface OfferedRecordProps {
  readonly x: Offered;
  readonly optionId: (i: number) => string;
  readonly i: number;
  readonly at: number;
  readonly single: Offered | undefined;
  readonly choose: (x: Offered) => void;
}

/** One of the records that a search found. */
export function OfferedRecord({ x, optionId, i, at, single, choose }: OfferedRecordProps) {
  return (
    <span
      id={optionId(i)}
      role="option"
      tabIndex={-1}
      aria-selected={i === at}
      ref={(el) => void (i === at && el?.scrollIntoView({ block: "nearest" }))}
      className={`block cursor-pointer truncate px-3 py-1.5 ${i === at ? "bg-base-200" : ""} ${
        single?.value === x.value ? "font-semibold" : ""
      }`}
      // Before the box loses the keyboard, so that the list is still there for the press.
      onMouseDown={(e) => e.preventDefault()}
      onClick={() => choose(x)}
      onKeyDown={() => {}}
      title={x.label}
    >
      {x.label}
      {x.also && <span className="quiet"> · {x.also}</span>}
    </span>
  );
}
