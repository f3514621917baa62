"use client";
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useRef, useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { changeTemplate, tryTemplate } from "../../inviting";

interface Props {
  portal: string;
  id: string;
  name: string;
  about: string;
  subject: string;
  body: string;
  /** Whether it is not as it was at first. */
  changed: boolean;
  words: readonly { word: string; about: string }[];
  /** Values of the receiver's record and of their company's. */
  values: readonly { word: string; about: string }[];
}

export function TemplateForm({ portal, id, name, about, subject: first, body: text, changed, words, values }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [subject, setSubject] = useState(first);
  const [body, setBody] = useState(text);
  const [message, setMessage] = useState<string | null>(null);
  const box = useRef<HTMLTextAreaElement>(null);
  const keep = (given: { subject: string; body: string } | null): void =>
    start(async () => {
      const answer = await answered(changeTemplate(portal, id, given));
      if (!answer) return;
      setMessage(answer.message);
      if (answer.message) return;
      toast.success(given ? `“${name}” reads so from now on.` : `“${name}” reads as it did at first.`);
      router.refresh();
    });
  const [as, setAs] = useState("");
  const [seen, setSeen] = useState<{ subject: string; body: string } | null>(null);
  const trial = (send: boolean): void =>
    start(async () => {
      const answer = await answered(tryTemplate(portal, id, { subject, body, email: as, send }));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      setSeen(answer.ok ? answer : null);
      if (answer.ok && send) toast.success("It is on its way to you. Links and codes in it are examples.");
    });
  const put = (word: string): void => {
    const at = box.current?.selectionStart ?? body.length;
    setBody(`${body.slice(0, at)}{${word}}${body.slice(box.current?.selectionEnd ?? at)}`);
    box.current?.focus();
  };
  return (
    <section className="sheet grid gap-3 p-5" aria-label={name}>
      <div>
        <h2>{name}</h2>
        <p className="quiet text-sm">{about}</p>
      </div>
      <label className="grid gap-1">
        <span className="field-label mb-0!">Subject</span>
        <input className="input w-full" value={subject} onChange={(e) => setSubject(e.target.value)} />
      </label>
      <label className="grid gap-1">
        <span className="field-label mb-0!">Text</span>
        <textarea ref={box} className="textarea w-full" rows={9} value={body} onChange={(e) => setBody(e.target.value)} />
      </label>
      <ValueButtons words={words} put={put} />
      {values.length > 0 && <RecordValues values={values} put={put} />}
      {message && (
        <p role="alert" className="field-error">
          {message}
        </p>
      )}
      {seen && (
        <div role="status" className="rounded border border-base-300 bg-base-200 p-4">
          <p className="font-medium">{seen.subject}</p>
          <p className="mt-2 whitespace-pre-line">{seen.body}</p>
        </div>
      )}
      <TrialForm as={as} setAs={setAs} busy={busy} trial={trial} />
      <div className="flex gap-3">
        <button type="button" className="btn btn-sm" disabled={busy} onClick={() => keep({ subject, body })}>
          Keep
        </button>
        {changed && (
          <button type="button" className="btn btn-ghost btn-sm" disabled={busy} onClick={() => keep(null)}>
            As it was at first
          </button>
        )}
      </div>
    </section>
  );
}

interface TrialFormProps {
  readonly as: string;
  readonly setAs: Dispatch<SetStateAction<string>>;
  readonly busy: boolean;
  readonly trial: (send: boolean) => void;
}

/** For whom it is tried. */
function TrialForm({ as, setAs, busy, trial }: TrialFormProps) {
  return (
    <div className="flex flex-wrap items-end gap-3">
      <label className="grid gap-1">
        <span className="quiet text-sm">As somebody gets it (their address; yours where empty)</span>
        <input type="email" className="input input-sm w-72 max-w-full" value={as} onChange={(e) => setAs(e.target.value)} />
      </label>
      <button type="button" className="btn btn-ghost btn-sm" disabled={busy} onClick={() => trial(false)}>
        Look at it
      </button>
      <button type="button" className="btn btn-ghost btn-sm" disabled={busy} onClick={() => trial(true)}>
        Send it to me
      </button>
    </div>
  );
}

/** What their record says, to put in. */
function RecordValues({ values, put }: { values: readonly { word: string; about: string }[]; put: (word: string) => void }) {
  return (
    <details className="text-sm">
      <summary className="link-plain cursor-pointer">What their record says</summary>
      <p className="mt-2 flex flex-wrap gap-2">
        {values.map((w) => (
          <button key={w.word} type="button" className="tag cursor-pointer" title={w.about} onClick={() => put(w.word)}>
            {`{${w.word}}`}
          </button>
        ))}
      </p>
      <p className="quiet mt-2">Whoever may not read a value inside gets nothing in its place.</p>
    </details>
  );
}

/** Values to put in. */
function ValueButtons({ words, put }: { words: readonly { word: string; about: string }[]; put: (word: string) => void }) {
  return (
    <p className="flex flex-wrap gap-2 text-sm">
      {words.map((w) => (
        <button key={w.word} type="button" className="tag cursor-pointer" title={w.about} onClick={() => put(w.word)}>
          {`{${w.word}}`}
        </button>
      ))}
    </p>
  );
}
