"use client";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { minorDigits } from "@/core/exchange/cells";
import { type Locale, toWords } from "@/core/exchange/present";
import { isLink, isLinks, type SeenValue } from "@/core/records";
import type { Field } from "@/core/schema/types";
/** One cell while it is changed. What is wrong stands under it, and what was typed stays. */
import { answered } from "@/ui/answered";
import { changeCell, relationChoices } from "../actions";

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

function startText(f: Field, v: SeenValue): string {
  if (v === null) return "";
  if (isLink(v)) return "id" in v ? v.id : "";
  if (isLinks(v)) return v.flatMap((l) => ("id" in l ? [l.id] : [])).join(";");
  if (Array.isArray(v)) return v.join(";");
  if (f.type === "money")
    return ((v as number) / 10 ** minorDigits(f.options.currency ?? "GBP")).toFixed(minorDigits(f.options.currency ?? "GBP"));
  return f.type === "yes-no" ? (v ? "yes" : "no") : String(v);
}

export function CellEditor({ portal, tableId, recordId, seen, field, value, locale, onKeep, onLeave }: Props) {
  const [text, setText] = useState(startText(field, value));
  const [error, setError] = useState<string | null>(null);
  const [fresh, setFresh] = useState<{ value: SeenValue; seen: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const [choices, setChoices] = useState<{ id: string; label: string }[] | null>(
    field.type === "choice" || field.type === "choices"
      ? (field.options.choices ?? []).map((c) => ({ id: c, label: c }))
      : field.type === "yes-no"
        ? [
            { id: "yes", label: "Yes" },
            { id: "no", label: "No" },
          ]
        : null,
  );
  const box = useRef<HTMLInputElement & HTMLSelectElement & HTMLTextAreaElement>(null);
  const relation = field.options.target !== undefined;
  const many = field.type === "relations" || field.type === "choices";

  useEffect(() => {
    if (relation) relationChoices(portal, field.id, "").then(setChoices);
  }, [relation, portal, field.id]);
  useEffect(() => {
    box.current?.focus();
    if (!relation || choices) box.current?.select?.();
  }, [relation, choices]);

  const save = async (words: string) => {
    setBusy(true);
    const change = { table: tableId, record: recordId, field: field.id, text: words, seen: fresh?.seen ?? seen };
    const answer = await answered(changeCell(portal, change));
    setBusy(false);
    if (!answer) return;
    if (answer.ok) onKeep(answer.value, answer.seen);
    else {
      setError(answer.message);
      if (answer.now) setFresh(answer.now);
      box.current?.focus();
    }
  };
  const keys = (e: KeyboardEvent) => {
    if (e.key === "Escape") onLeave();
    if (e.key === "Enter" && !(field.type === "long-text" && e.shiftKey)) {
      e.preventDefault();
      void save(text);
    }
  };
  const common = {
    ref: box,
    value: text,
    onKeyDown: keys,
    disabled: busy,
    "aria-label": field.name,
    "aria-invalid": error ? true : undefined,
    "aria-describedby": error ? "cell-error" : undefined,
  };
  return (
    <div className="relative min-w-44 text-left whitespace-normal">
      {relation && !choices ? (
        <span className="loading loading-dots loading-sm" role="status" aria-label="Loading the choices" />
      ) : choices ? (
        <select
          {...common}
          multiple={many}
          value={many ? (text.split(";").filter(Boolean) as never) : text}
          className="select select-sm w-full"
          onChange={(e) => {
            const picked = many ? [...e.target.selectedOptions].map((o) => o.value).join(";") : e.target.value;
            setText(picked);
            if (!many) void save(picked);
          }}
          onBlur={() => !many && onLeave()}
        >
          {!many && <option value="">Empty</option>}
          {choices.map((c) => (
            <option key={c.id} value={c.id}>
              {c.label}
            </option>
          ))}
        </select>
      ) : field.type === "long-text" ? (
        <textarea {...common} rows={4} className="textarea w-72" onChange={(e) => setText(e.target.value)} />
      ) : (
        <input
          {...common}
          type={field.type === "date" ? "date" : "text"}
          className="input input-sm w-full"
          onChange={(e) => setText(e.target.value)}
          onBlur={() => text === startText(field, value) && onLeave()}
        />
      )}
      {(many || field.type === "long-text") && (
        <span className="mt-1 flex gap-2">
          <button type="button" className="btn btn-primary btn-xs" onClick={() => void save(text)}>
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
