"use client";
/**
 * A form as its owner laid it out: in steps and groups, with fields that come and go and values that follow from others. The server works
 * those out while somebody types, and again when the form is sent. What was typed stays on this device until it is.
 */
import { type Dispatch, type SetStateAction, useCallback, useEffect, useRef, useState } from "react";
import type { Offered } from "@/core/schema/offered";
import { type Uploads, type Waiting, WithUploads } from "@/ui/files/uploads";
import { LOOKS } from "@/ui/forms/fields";
import type { FormState } from "@/ui/forms/form";
import { FileField, Field as OneField, turnOf, untouchedOut } from "@/ui/forms/record-form";
import { PICKED, WithRecords } from "@/ui/forms/record-picker";
import { useSafeForm } from "@/ui/forms/safe-form";
import { type ClientWords, useWords } from "@/ui/words";
import type { AskedField, AskedForm } from "../records/asked";
import { findRecords } from "../records/choice-actions";
import { workOutForm } from "../records/form-actions";

interface Props extends AskedForm {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  submit: string;
  uploads: string;
}

const WAIT_MS = 250;
/** What nobody sees; programs that fill in whatever they find give themselves away by it. */
const TRAP = "website";

export function PageForm({ action, fields, steps, stepWords, hidden, seen, closed, alive, draft, submit, uploads }: Props) {
  const { state, pending, form, files } = useSafeForm(action, seen ? untouchedOut(fields) : undefined);
  const words = useWords();
  const el = useRef<HTMLFormElement>(null);
  const touched = useRef(new Set<string>());
  const [gone, setGone] = useState<ReadonlySet<string>>(new Set(fields.filter((f) => f.conditional).map((f) => f.id)));
  const [step, setStep] = useState(1);
  const kept = useDraft(el, draft, state.turn, state.done !== undefined);
  useEffect(() => kept.sending(pending));
  const all = stepWords.length;

  const work = useCallback(async () => {
    const data = new FormData(el.current!);
    const values = [...data].flatMap(([k, v]): [string, string][] =>
      typeof v === "string" && !k.startsWith("$") && k !== TRAP ? [[k, v]] : [],
    );
    const { $section: section = "", $about: about = "" } = hidden;
    const answer = await workOutForm({ section, about, values, touched: [...touched.current] }).catch(() => null);
    if (!answer || !el.current) return; // signed out, or no line: the server works it out when the form is sent
    setGone(new Set(answer.hidden));
    for (const { id, texts, chosen } of answer.filled) {
      if (chosen) pick(el.current, id, chosen);
      const input = el.current.elements.namedItem(id);
      if (input instanceof HTMLInputElement || input instanceof HTMLSelectElement || input instanceof HTMLTextAreaElement)
        input.value = texts[0] ?? "";
    }
  }, [hidden]);
  useEffect(() => {
    if (alive) void work();
  }, [alive, work]);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const changed = (e: React.FormEvent<HTMLFormElement>): void => {
    const name = (e.target as HTMLInputElement).name;
    if (name) touched.current.add(name);
    kept.keep();
    if (!alive) return;
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void work(), WAIT_MS);
  };
  // A refusal beside a field of another step leads there.
  const wrong = fields.find((f) => state.errors[f.id])?.step;
  useEffect(() => {
    if (wrong !== undefined && state.turn > 0) setStep(wrong);
  }, [wrong, state.turn]);

  if (state.done) return <SentForm state={state} words={words} />;
  const last = step >= all;
  return (
    <form {...form} ref={el} className="grid gap-5" onInput={changed}>
      {Object.entries({ ...hidden, ...(seen ? { $seen: seen } : {}) }).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      <input type="text" name={TRAP} tabIndex={-1} autoComplete="off" aria-hidden className="absolute -left-[200vw]" />
      {state.message && (
        <div role="alert" className="alert alert-error">
          {state.message}
        </div>
      )}
      {kept.found && <KeptWords words={words} kept={kept} />}
      {all > 1 && (
        <p className="quiet text-sm" aria-live="polite">
          {stepWords[step - 1]}
          {steps[step - 1] && <span className="title block text-lg font-semibold text-base-content">{steps[step - 1]}</span>}
        </p>
      )}
      <StepFields files={files} fields={fields} state={state} step={step} gone={gone} uploads={uploads} closed={closed} />
      {closed && (
        <p id="closed" className="alert alert-warning alert-soft">
          {closed}
        </p>
      )}
      <StepButtons step={step} setStep={setStep} words={words} last={last} pending={pending} closed={closed} submit={submit} />
    </form>
  );
}

function Asked({
  field: f,
  state,
  off,
  uploads,
  closed,
}: {
  field: AskedField;
  state: FormState;
  off: boolean;
  uploads: string;
  closed: boolean;
}) {
  const given = state.values[f.id];
  const value = typeof given === "string" ? [given] : (given ?? f.value);
  return (
    // Hidden, not gone: what was typed into it stays until it is asked for again, and the server leaves out what is not asked.
    <div className={`col-span-12 ${f.width === 6 ? "sm:col-span-6" : ""}`} hidden={off}>
      {f.group && <p className="title mb-3 border-b border-base-300 pb-1 font-semibold">{f.group}</p>}
      {LOOKS[f.type].edit === "files" ? (
        <FileField field={f} error={state.errors[f.id]} uploads={uploads} closed={closed} />
      ) : (
        <OneField key={turnOf(f, state)} field={f} error={state.errors[f.id]} value={value} placeholder={f.placeholder} />
      )}
    </div>
  );
}

const pick = (form: HTMLFormElement, id: string, chosen: readonly Offered[]): void =>
  void form.querySelector(`[data-picks="${CSS.escape(id)}"]`)?.dispatchEvent(new CustomEvent(PICKED, { detail: chosen }));

/** What was typed, on this device alone, until it is sent. Passwords and files are never in such forms, or not kept. */
function useDraft(el: React.RefObject<HTMLFormElement | null>, draft: string | null, turn: number, done: boolean) {
  const key = `elkhorn-form ${draft}`;
  const [found, setFound] = useState(false);
  useEffect(() => {
    if (!draft || turn > 0) return;
    const stored = localStorage.getItem(key);
    if (!stored || !el.current) return;
    let any = false;
    for (const [name, value] of Object.entries(JSON.parse(stored) as Record<string, string | Offered[]>)) {
      if (typeof value !== "string") {
        pick(el.current, name, value);
        any = true;
        continue;
      }
      const input = el.current.elements.namedItem(name);
      if (
        (input instanceof HTMLInputElement || input instanceof HTMLTextAreaElement || input instanceof HTMLSelectElement) &&
        input.type !== "hidden" &&
        input.value !== value
      ) {
        input.value = value;
        any = true;
      }
    }
    setFound(any);
  }, [draft, key, el, turn]);
  // It arrived: said so here, or by leading elsewhere, where this form is gone while it was being sent.
  const sending = useRef(false);
  useEffect(() => {
    if (done) localStorage.removeItem(key);
  }, [done, key]);
  useEffect(
    () => () => {
      if (sending.current) localStorage.removeItem(key);
    },
    [key],
  );
  return {
    found,
    sending: (yes: boolean): void => void (sending.current = yes),
    keep: (): void => {
      if (!draft || !el.current) return;
      const values: Record<string, string | Offered[]> = {};
      for (const [k, v] of new FormData(el.current))
        if (typeof v === "string" && v !== "" && !k.startsWith("$") && k !== TRAP) values[k] = v;
      // The names of records that were picked are kept, too.
      for (const box of el.current.querySelectorAll<HTMLElement>("[data-picks]")) {
        const picked = [...box.querySelectorAll<HTMLInputElement>("input[type=hidden]")].filter((x) => x.value !== "");
        if (picked.length > 0) values[box.dataset.picks!] = picked.map((x) => ({ value: x.value, label: x.dataset.label ?? "" }));
      }
      localStorage.setItem(key, JSON.stringify(values));
    },
    forget: (): void => {
      localStorage.removeItem(key);
      window.location.reload();
    },
  };
}

interface StepButtonsProps {
  readonly step: number;
  readonly setStep: Dispatch<SetStateAction<number>>;
  readonly words: ClientWords;
  readonly last: boolean;
  readonly pending: boolean;
  readonly closed: string | undefined;
  readonly submit: string;
}

/** Back, and on or off with it. */
function StepButtons({ step, setStep, words, last, pending, closed, submit }: StepButtonsProps) {
  return (
    <div className="flex items-center gap-3">
      {step > 1 && (
        <button type="button" className="btn" onClick={() => setStep(step - 1)}>
          {words["form.back"]}
        </button>
      )}
      {!last && (
        <button type="button" className="btn btn-primary" onClick={() => setStep(step + 1)}>
          {words["form.on"]}
        </button>
      )}
      {last && (
        <button
          type="submit"
          className="btn btn-primary"
          disabled={pending || closed !== undefined}
          aria-describedby={closed ? "closed" : undefined}
        >
          {pending && <span className="loading loading-spinner loading-xs" aria-hidden />}
          {submit}
        </button>
      )}
    </div>
  );
}

interface StepFieldsProps {
  readonly files: { uploads: Uploads; waiting: Waiting | null };
  readonly fields: AskedField[];
  readonly state: FormState;
  readonly step: number;
  readonly gone: ReadonlySet<string>;
  readonly uploads: string;
  readonly closed: string | undefined;
}

/** What this step asks. */
function StepFields({ files, fields, state, step, gone, uploads, closed }: StepFieldsProps) {
  return (
    <WithRecords value={findRecords}>
      <WithUploads {...files}>
        <div className="grid grid-cols-12 gap-x-4 gap-y-5">
          {fields.map((f) => (
            <Asked
              key={f.id}
              field={f}
              state={state}
              off={f.step !== step || gone.has(f.id)}
              uploads={uploads}
              closed={closed !== undefined}
            />
          ))}
        </div>
      </WithUploads>
    </WithRecords>
  );
}

/** What is said once it is sent. */
function SentForm({ state, words }: { state: FormState; words: ClientWords }) {
  return (
    <div role="status" className="grid gap-4">
      <p className="alert alert-success alert-soft">{state.done}</p>
      <button type="button" className="btn justify-self-start" onClick={() => window.location.reload()}>
        {words["form.again"]}
      </button>
    </div>
  );
}

/** Says that what was typed before is there again. */
function KeptWords({
  words,
  kept,
}: {
  words: ClientWords;
  kept: { found: boolean; sending: (yes: boolean) => void; keep: () => void; forget: () => void };
}) {
  return (
    <p role="status" className="quiet flex flex-wrap items-center gap-3 text-sm">
      {words["form.kept-here"]}
      <button type="button" className="link-plain min-h-6" onClick={kept.forget}>
        {words["form.begin-anew"]}
      </button>
    </p>
  );
}
