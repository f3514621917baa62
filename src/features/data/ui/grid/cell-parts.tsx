"use client";
/** Boxes and buttons of a cell's editor. */
import type { ComponentProps, Dispatch, Ref, RefObject, SetStateAction } from "react";
import { toWords } from "@/core/exchange/present";
import type { Locale } from "@/core/schema/fields/kind";
import { holdsPictures } from "@/core/schema/fields/natures";
import type { Offered } from "@/core/schema/offered";
import { isFiles, type SeenValue } from "@/core/schema/seen";
import type { Field } from "@/core/schema/types";
import { FileBox } from "@/ui/files/file-box";
import { FilesBefore } from "./files-before";

interface ChoiceCellProps {
  /** What every box of a cell has. */
  readonly common: Pick<
    ComponentProps<"select">,
    "value" | "onKeyDown" | "disabled" | "aria-label" | "aria-invalid" | "aria-describedby"
  > & {
    readonly ref: Ref<HTMLSelectElement>;
  };
  readonly many: boolean;
  readonly texts: string[];
  readonly setTexts: Dispatch<SetStateAction<string[]>>;
  readonly save: (words: string[]) => Promise<void>;
  readonly onLeave: () => void;
  readonly choices: readonly Offered[];
}

/** A choice, or several. */
export function ChoiceCell({ common, many, texts, setTexts, save, onLeave, choices }: ChoiceCellProps) {
  return (
    <select
      {...common}
      multiple={many}
      value={many ? (texts as never) : (texts[0] ?? "")}
      className="select select-sm w-full"
      onChange={(e) => {
        const picked = many ? [...e.target.selectedOptions].map((o) => o.value) : [e.target.value];
        setTexts(picked);
        if (!many) void save(picked);
      }}
      onBlur={() => !many && onLeave()}
    >
      {!many && <option value="">Empty</option>}
      {choices.map((c) => (
        <option key={c.value} value={c.value}>
          {c.label}
        </option>
      ))}
    </select>
  );
}

interface KeepButtonsProps {
  readonly save: (words: string[]) => Promise<void>;
  readonly texts: string[];
  readonly onLeave: () => void;
}

/** Keep it, or leave it as it was. */
export function KeepButtons({ save, texts, onLeave }: KeepButtonsProps) {
  return (
    <span className="mt-1 flex gap-2">
      <button type="button" className="btn btn-primary btn-xs" onClick={() => void save(texts)}>
        Keep
      </button>
      <button type="button" className="btn btn-ghost btn-xs" onClick={onLeave}>
        Leave as it was
      </button>
    </span>
  );
}

interface CellErrorProps {
  readonly error: string;
  readonly fresh: null | { value: SeenValue; seen: string };
  readonly field: Field;
  readonly locale: Locale;
  readonly onKeep: (value: SeenValue, seen: string) => void;
}

/** What is wrong, and what the record says now. */
export function CellError({ error, fresh, field, locale, onKeep }: CellErrorProps) {
  return (
    <div id="cell-error" role="alert" className="sheet absolute top-full left-0 z-10 mt-1 w-72 p-3 text-sm">
      <span className="text-error">{error}</span>
      {fresh && (
        <span className="mt-1 block">
          Now: <strong>{toWords(field, fresh.value, locale) || "empty"}</strong>{" "}
          <button type="button" className="link-plain" onClick={() => onKeep(fresh.value, fresh.seen)}>
            Take this one
          </button>
        </span>
      )}
    </div>
  );
}

interface CellFilesProps {
  readonly field: Field;
  readonly value: SeenValue;
  readonly portal: string;
  readonly latest: RefObject<string[]>;
  readonly setTexts: Dispatch<SetStateAction<string[]>>;
  readonly recordId: string;
  readonly locale: Locale;
}

/** Files of a cell. */
export function CellFiles({ field, value, portal, latest, setTexts, recordId, locale }: CellFilesProps) {
  return (
    <FileBox
      field={field.id}
      pictures={holdsPictures(field)}
      held={isFiles(value) ? value.map((f) => ({ value: f.id, label: f.name })) : []}
      uploads={`/portals/${portal}/-/uploads`}
      onChange={(ids) => {
        latest.current = ids;
        setTexts(ids);
      }}
      more={(held, add) => <FilesBefore portal={portal} field={field.id} record={recordId} held={held} locale={locale} add={add} />}
    />
  );
}
