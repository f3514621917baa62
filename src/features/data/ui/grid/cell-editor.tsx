"use client";
/** One cell while it is changed. What is wrong stands under it, and what was typed stays. */
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { Locale } from "@/core/schema/fields/kind";
import type { Offered } from "@/core/schema/offered";
import { isLink, isLinks, linkWords, type SeenValue } from "@/core/schema/seen";
import { type Field, kindOf } from "@/core/schema/types";
import { answered } from "@/ui/answered";
import { useUploads, WithUploads } from "@/ui/files/uploads";
import { LOOKS } from "@/ui/forms/fields";
import { RecordPicker } from "@/ui/forms/record-picker";
import { changeCell, relationChoices } from "../../actions";
import { CellError, CellFiles, ChoiceCell, KeepButtons } from "./cell-parts";

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

export function CellEditor(p: Props) {
  const c = useCell(p);
  const { field, value, locale, onKeep, onLeave } = p;
  const { texts, setTexts, error, fresh, choices, many, look, save, common } = c;
  if (look.edit === "files") return <FilesCell c={c} p={p} />;
  return (
    <div className="relative min-w-44 text-left whitespace-normal">
      {c.relation ? (
        <RelationCell c={c} p={p} />
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
      {(many || look.edit === "area") && <KeepButtons save={save} texts={texts} onLeave={onLeave} />}
      {error && <CellError error={error} fresh={fresh} field={field} locale={locale} onKeep={onKeep} />}
    </div>
  );
}

interface Part {
  readonly c: ReturnType<typeof useCell>;
  readonly p: Props;
}

/** Files or pictures: kept once all of them have come. */
function FilesCell({ c, p }: Part) {
  return (
    <div className="sheet w-80 p-3 text-left whitespace-normal">
      <WithUploads uploads={c.uploads} waiting={c.waiting}>
        <CellFiles
          field={p.field}
          value={p.value}
          portal={p.portal}
          latest={c.latest}
          setTexts={c.setTexts}
          recordId={p.recordId}
          locale={p.locale}
        />
      </WithUploads>
      {c.error && (
        <p role="alert" className="field-error">
          {c.error}
        </p>
      )}
      <span className="mt-1 flex gap-2">
        <button type="button" className="btn btn-primary btn-xs" disabled={c.busy || c.waiting !== null} onClick={() => void c.saveFiles()}>
          Keep
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={p.onLeave}>
          Leave as it was
        </button>
      </span>
    </div>
  );
}

/** Records that the cell points to. One alone is kept as it is chosen. */
function RelationCell({ c, p }: Part) {
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys of the box within
    <span
      className="block min-w-64"
      onKeyDown={(e) => {
        if (e.key === "Escape") p.onLeave();
      }}
    >
      <RecordPicker
        ref={c.box}
        label={p.field.name}
        many={c.many}
        small
        chosen={c.chosen}
        disabled={c.busy}
        invalid={c.error !== null}
        describedBy={c.error ? "cell-error" : undefined}
        find={(words) => relationChoices(p.portal, p.field.id, words)}
        onChange={(now) => {
          const ids = now.map((x) => x.value);
          c.setChosen(now);
          c.setTexts(ids);
          if (!c.many) void c.save(ids);
        }}
        onLeave={() => !c.many && !c.busy && !c.error && p.onLeave()}
      />
    </span>
  );
}

/** What is typed in a cell, and its way to the server. */
function useCell({ portal, tableId, recordId, seen, field, value, locale, onKeep, onLeave }: Props) {
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
  return {
    texts,
    setTexts,
    error,
    fresh,
    busy,
    choices,
    chosen,
    setChosen,
    uploads,
    waiting,
    latest,
    box,
    relation,
    many,
    look,
    save,
    saveFiles,
    common,
  };
}
