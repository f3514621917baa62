"use client";
import { ChevronDown, X } from "lucide-react";
import type { Dispatch, SetStateAction } from "react";
import { createContext, type KeyboardEvent, type Ref, useContext, useEffect, useId, useRef, useState } from "react";
import type { FoundRecords, Offered } from "@/core/schema/offered";
import type { ClientWords } from "@/ui/words";
import { useWords } from "../words";
import { ChosenRecords, OfferedRecord } from "./picked-records";

/** Records for a field whose name or text holds `words`; the first few where there are none. Rejects where no answer comes. */
export type FindRecords = (field: string, words: string) => Promise<FoundRecords>;

const Finding = createContext<FindRecords | null>(null);
/** Around a form: where its relations find the records to choose from. */
export const WithRecords = Finding.Provider;
export function useFindRecords(): FindRecords {
  const find = useContext(Finding);
  if (!find) throw new Error("A form with relations needs <WithRecords> around it.");
  return find;
}

interface Props {
  id?: string;
  ref?: Ref<HTMLInputElement>;
  label?: string;
  many: boolean;
  required?: boolean;
  chosen: readonly Offered[];
  onChange: (chosen: Offered[]) => void;
  find: (words: string) => Promise<FoundRecords>;
  onLeave?: () => void;
  disabled?: boolean;
  invalid?: boolean;
  describedBy?: string | undefined;
  small?: boolean;
}

const WAIT_MS = 150;

/** A relation's records, found by typing. */
export function RecordPicker({
  id,
  ref,
  label,
  many,
  required,
  chosen,
  onChange,
  find,
  onLeave,
  disabled,
  invalid,
  describedBy,
  small = false,
}: Props) {
  const { said, open, setOpen, words, setWords, found, at, list, offered, choose, keys, single, optionId } = usePicker({
    many,
    chosen,
    onChange,
    find,
  });
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the box and its list are left together
    <span
      className="relative block"
      onBlur={(e) => {
        if (e.currentTarget.contains(e.relatedTarget)) return;
        setOpen(false);
        setWords("");
        onLeave?.();
      }}
    >
      {many && chosen.length > 0 && <ChosenRecords chosen={chosen} disabled={disabled} said={said} onChange={onChange} />}
      <span className={`input w-full pr-1 ${small ? "input-sm" : ""} ${invalid ? "input-error" : ""}`}>
        <input
          id={id}
          ref={ref}
          role="combobox"
          autoComplete="off"
          spellCheck={false}
          aria-label={label}
          aria-expanded={open}
          aria-controls={list}
          aria-autocomplete="list"
          aria-activedescendant={open && offered[at] ? optionId(at) : undefined}
          aria-invalid={invalid || undefined}
          aria-describedby={describedBy}
          aria-required={required}
          disabled={disabled}
          className="min-w-0 grow"
          placeholder={single ? undefined : said["pick.find"]}
          value={open ? words : (single?.label ?? "")}
          onChange={(e) => {
            setWords(e.target.value);
            setOpen(true);
          }}
          // While it is searched in, what is chosen stands behind the words, not among them.
          title={single?.label}
          onFocus={() => !disabled && setOpen(true)}
          onClick={() => !disabled && setOpen(true)}
          onKeyDown={keys}
        />
        {single && !disabled && <TakeOutButton said={said} single={single} onChange={onChange} setOpen={setOpen} />}
        <ChevronDown size={14} aria-hidden className="opacity-50" />
      </span>
      {open && (
        <span className="absolute top-full left-0 z-30 mt-1 block w-full min-w-56 rounded-box border border-base-300 bg-base-100 py-1 shadow-lg">
          <span id={list} role="listbox" aria-label={label ?? said["pick.find"]} className="block max-h-64 overflow-y-auto">
            {offered.map((x, i) => (
              <OfferedRecord key={x.value} x={x} optionId={optionId} i={i} at={at} single={single} choose={choose} />
            ))}
          </span>
          <FoundWords found={found} said={said} offered={offered} />
        </span>
      )}
    </span>
  );
}

/** What is typed, found and pointed at, and what keys do. */
function usePicker({ many, chosen, onChange, find }: Props) {
  const said = useWords();
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState("");
  const [found, setFound] = useState<FoundRecords | "failed" | null>(null);
  const [at, setAt] = useState(0);
  // Enter may come before the answer does: then the first of the answer is meant.
  const hasty = useRef(false);
  const list = useId();
  const finding = useRef(find);
  finding.current = find;
  const offered = found && found !== "failed" ? found.records.filter((r) => !many || !chosen.some((c) => c.value === r.value)) : [];

  const choose = (x: Offered): void => {
    onChange(many ? [...chosen, x] : [x]);
    setWords("");
    if (!many) setOpen(false);
  };
  const chooseNow = useRef(choose);
  chooseNow.current = choose;
  useEffect(() => {
    if (!open) return;
    let stale = false;
    setFound(null);
    const ask = async (): Promise<void> => {
      const answer = await finding.current(words.trim()).catch(() => "failed" as const);
      if (stale) return;
      setFound(answer);
      setAt(0);
      if (hasty.current && answer !== "failed" && answer.records[0]) chooseNow.current(answer.records[0]);
      hasty.current = false;
    };
    const timer = setTimeout(ask, words ? WAIT_MS : 0);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [open, words]);

  const keys = (e: KeyboardEvent<HTMLInputElement>): void => {
    const step = e.key === "ArrowDown" ? 1 : e.key === "ArrowUp" ? -1 : 0;
    if (step !== 0) {
      e.preventDefault();
      if (!open) setOpen(true);
      else if (offered.length > 0) setAt((at + step + offered.length) % offered.length);
    } else if (e.key === "Enter" && open) {
      e.preventDefault();
      e.stopPropagation();
      const x = offered[at];
      if (x) choose(x);
      else hasty.current = found === null;
    } else if (e.key === "Escape" && open) {
      // The list alone is closed; what it stands in stays.
      e.preventDefault();
      e.stopPropagation();
      setOpen(false);
      setWords("");
    } else if (e.key === "Backspace" && words === "" && chosen.length > 0) onChange(chosen.slice(0, -1));
  };
  const single = many ? undefined : chosen[0];
  const optionId = (i: number): string => `${list}-${i}`;
  return { said, open, setOpen, words, setWords, found, at, list, offered, choose, keys, single, optionId };
}

interface InFormProps {
  id: string;
  many: boolean;
  required: boolean;
  chosen: readonly Offered[];
  /** Some of what it holds is out of the viewer's sight. */
  withheld?: boolean | undefined;
  invalid: boolean;
  describedBy?: string | undefined;
  ref?: Ref<HTMLInputElement>;
}

/** Told to a picker in a form from outside: what a rule filled in, or what was kept of an earlier filling-in. */
export const PICKED = "elkhorn:picked";

/** In a form: the ids go with it under the field's name. Where nothing is chosen, an empty one says so. */
export function PickerInForm({ id, many, required, chosen: first, withheld, invalid, describedBy, ref }: InFormProps) {
  const find = useFindRecords();
  const said = useWords();
  const [chosen, setChosen] = useState(first);
  const box = useRef<HTMLSpanElement>(null);
  const told = useRef(chosen);
  useEffect(() => {
    if (told.current === chosen) return;
    told.current = chosen;
    // As typing would: whatever listens to the form hears of it when the new ids stand in it.
    box.current?.querySelector("input[type=hidden]")?.dispatchEvent(new Event("input", { bubbles: true }));
  }, [chosen]);
  useEffect(() => {
    const el = box.current;
    const take = (e: Event): void => {
      told.current = (e as CustomEvent<Offered[]>).detail;
      setChosen(told.current);
    };
    el?.addEventListener(PICKED, take);
    return () => el?.removeEventListener(PICKED, take);
  }, []);
  return (
    <span ref={box} data-picks={id} className="block">
      {(chosen.length > 0 ? chosen : [{ value: "", label: "" }]).map((c) => (
        <input key={c.value} type="hidden" name={id} value={c.value} data-label={c.label} />
      ))}
      <RecordPicker
        id={id}
        {...(ref ? { ref } : {})}
        many={many}
        required={required}
        chosen={chosen}
        onChange={setChosen}
        find={(words) => find(id, words)}
        invalid={invalid}
        describedBy={describedBy}
      />
      {withheld && <span className="quiet mt-1 block text-sm">{said["pick.withheld"]}</span>}
    </span>
  );
}

interface TakeOutButtonProps {
  readonly said: ClientWords;
  readonly single: Offered;
  readonly onChange: (chosen: Offered[]) => void;
  readonly setOpen: Dispatch<SetStateAction<boolean>>;
}

/** Takes the one that is chosen out. */
function TakeOutButton({ said, single, onChange, setOpen }: TakeOutButtonProps) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-square size-6!"
      aria-label={`${said["pick.remove"]} ${single.label}`}
      onClick={() => {
        onChange([]);
        setOpen(false);
      }}
    >
      <X size={14} aria-hidden />
    </button>
  );
}

interface FoundWordsProps {
  readonly found: null | FoundRecords | "failed";
  readonly said: ClientWords;
  readonly offered: Offered[];
}

/** What the search came to, for whoever hears the page. */
function FoundWords({ found, said, offered }: FoundWordsProps) {
  return (
    <span className="quiet block px-3 py-1 text-sm empty:hidden" role="status">
      {found === null && said["pick.loading"]}
      {found === "failed" && said["pick.failed"]}
      {found && found !== "failed" && offered.length === 0 && said["pick.none"]}
      {found && found !== "failed" && offered.length > 0 && found.more && said["pick.more"]}
    </span>
  );
}
