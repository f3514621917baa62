"use client";
/** One cell while it is changed. What is wrong stands under it, and what was typed stays. */
import { type ComponentProps, type Dispatch, type KeyboardEvent, type Ref, type SetStateAction, useEffect, useRef, useState } from "react";
import { toWords } from "@/core/exchange/present";
import type { Locale } from "@/core/schema/fields/kind";
import { holdsPictures } from "@/core/schema/fields/natures";
import type { Offered } from "@/core/schema/offered";
import { isFiles, isLink, isLinks, linkWords, type SeenValue } from "@/core/schema/seen";
import { type Field, kindOf } from "@/core/schema/types";
import { answered } from "@/ui/answered";
import { FileBox } from "@/ui/files/file-box";
import { useUploads, WithUploads } from "@/ui/files/uploads";
import { LOOKS } from "@/ui/forms/fields";
import { RecordPicker } from "@/ui/forms/record-picker";
import { changeCell, relationChoices } from "../../actions";
import { FilesBefore } from "./files-before";

interface Props {
  portal: string;
  tableId: string;
  recordId: string;
  seen: string;
  field: Field;
  value: SeenValue;
  locale: Locale;
  onKeep: (value: SeenValue, seen: string) => void;
  onLeave: () => void;
}

function relationNow(v: SeenValue): Offered[] {
  const links = isLinks(v) ? v : isLink(v) ? [v] : [];
  return links.flatMap((l) => ("id" in l ? [{ value: l.id, label: linkWords(l) }] : []));
}

const startTexts = (f: Field, v: SeenValue, l: Locale): string[] => (v === null ? [] : kindOf(f).texts(v, f, l.timeZone));

export function CellEditor({ portal, tableId, recordId, seen, field, value, locale, onKeep, onLeave }: Props) {
  const [texts, setTexts] = useState(startTexts(field, value, locale));
  const [error, setError] = useState<string | null>(null);
  const [fresh, setFresh] = useState<{ value: SeenValue; seen: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const choices = kindOf(field).offers?.(field);
  const [chosen, setChosen] = useState<readonly Offered[]>(relationNow(value));
  const { uploads, waiting, ready } = useUploads();
  const latest = useRef(texts);
  const box = useRef<HTMLInputElement & HTMLSelectElement & HTMLTextAreaElement>(null);
  const relation = field.options.target !== undefined;
  const many = kindOf(field).many !== null;
  const look = LOOKS[field.type];

  useEffect(() => {
    box.current?.focus();
    if (!relation) box.current?.select?.();
  }, [relation]);

  const save = async (words: string[]) => {
    setBusy(true);
    const change = { table: tableId, record: recordId, field: field.id, texts: words, seen: fresh?.seen ?? seen };
    const answer = await answered(changeCell(portal, change));
    setBusy(false);
    if (!answer) return;
    if (answer.ok) onKeep(answer.value, answer.seen);
    else {
      setError(answer.message);
      if ("now" in answer && answer.now) setFresh(answer.now);
      box.current?.focus();
    }
  };
  const saveFiles = async () => {
    const trouble = await ready();
    if (trouble === null) await save(latest.current);
    else setError(trouble || null);
  };
  const keys = (e: KeyboardEvent) => {
    if (e.key === "Escape") onLeave();
    if (e.key === "Enter" && !(look.edit === "area" && e.shiftKey)) {
      e.preventDefault();
      void save(texts);
    }
  };
  const common = {
    ref: box,
    value: texts[0] ?? "",
    onKeyDown: keys,
    disabled: busy,
    "aria-label": field.name,
    "aria-invalid": error ? true : undefined,
    "aria-describedby": error ? "cell-error" : undefined,
  };
  if (look.edit === "files")
    return (
      <div className="sheet w-80 p-3 text-left whitespace-normal">
        <WithUploads uploads={uploads} waiting={waiting}>
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
        </WithUploads>
        {error && (
          <p role="alert" className="field-error">
            {error}
          </p>
        )}
        <span className="mt-1 flex gap-2">
          <button type="button" className="btn btn-primary btn-xs" disabled={busy || waiting !== null} onClick={() => void saveFiles()}>
            Keep
          </button>
          <button type="button" className="btn btn-ghost btn-xs" onClick={onLeave}>
            Leave as it was
          </button>
        </span>
      </div>
    );
  return (
    <div className="relative min-w-44 text-left whitespace-normal">
      {relation ? (
        // biome-ignore lint/a11y/noStaticElementInteractions: keys of the box within
        <span
          className="block min-w-64"
          onKeyDown={(e) => {
            if (e.key === "Escape") onLeave();
          }}
        >
          <RecordPicker
            ref={box}
            label={field.name}
            many={many}
            small
            chosen={chosen}
            disabled={busy}
            invalid={error !== null}
            describedBy={error ? "cell-error" : undefined}
            find={(words) => relationChoices(portal, field.id, words)}
            onChange={(now) => {
              setChosen(now);
              setTexts(now.map((c) => c.value));
              if (!many) void save(now.map((c) => c.value));
            }}
            onLeave={() => !many && !busy && !error && onLeave()}
          />
        </span>
      ) : choices ? (
        <ChoiceCell common={common} many={many} texts={texts} setTexts={setTexts} save={save} onLeave={onLeave} choices={choices} />
      ) : look.edit === "area" ? (
        <textarea {...common} rows={4} className="textarea w-72" onChange={(e) => setTexts([e.target.value])} />
      ) : (
        <input
          {...common}
          type={look.input ?? "text"}
          className="input input-sm w-full"
          onChange={(e) => setTexts([e.target.value])}
          onBlur={() => (texts[0] ?? "") === (startTexts(field, value, locale)[0] ?? "") && onLeave()}
        />
      )}
      {(many || look.edit === "area") && (
        <span className="mt-1 flex gap-2">
          <button type="button" className="btn btn-primary btn-xs" onClick={() => void save(texts)}>
            Keep
          </button>
          <button type="button" className="btn btn-ghost btn-xs" onClick={onLeave}>
            Leave as it was
          </button>
        </span>
      )}
      {error && (
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
      )}
    </div>
  );
}

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
function ChoiceCell({ common, many, texts, setTexts, save, onLeave, choices }: ChoiceCellProps) {
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
