"use client";
/** Parts of the form of a brand: a titled group, a labelled box, a colour, and a picture that is dropped or chosen. */
import { type ReactNode, useId, useState, useTransition } from "react";
import { keepPicture } from "@/office/pictures";
import { answered } from "@/ui/answered";
import { MOST_SENT, smallerPicture } from "@/ui/files/smaller-picture";

export const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="grid gap-3">
    <h2 className="text-base">{title}</h2>
    {children}
  </section>
);

export function Labelled({ label, children }: { label: string; children: (id: string) => ReactNode }) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-sm font-medium">
        {label}
      </label>
      {children(id)}
    </div>
  );
}

export function Colour({ label, value, onChange }: { label: string; value: string; onChange: (v: string) => void }) {
  const [typed, setTyped] = useState(value);
  const good = /^#[0-9a-fA-F]{6}$/.test(typed);
  if (good && typed.toLowerCase() !== value.toLowerCase()) setTyped(value); // chosen elsewhere, by a look or the picker
  return (
    <Labelled label={label}>
      {(id) => (
        <span className="flex gap-2">
          <input
            type="color"
            aria-label={`${label}, from a picker`}
            className="h-8 w-10 cursor-pointer"
            value={value}
            onChange={(e) => onChange(e.target.value)}
          />
          <input
            id={id}
            className="input input-sm w-full font-mono"
            value={good ? value : typed}
            maxLength={7}
            aria-invalid={!good}
            onChange={(e) => {
              setTyped(e.target.value);
              if (/^#[0-9a-fA-F]{6}$/.test(e.target.value)) onChange(e.target.value);
            }}
          />
        </span>
      )}
    </Labelled>
  );
}

interface PictureProps {
  slug: string;
  at: string;
  what: "logo" | "picture";
  label: string;
  hash: string | null;
  onChange: (hash: string | null) => void;
}

export function PictureBox({ slug, at, what, label, hash, onChange }: PictureProps) {
  const [problem, setProblem] = useState("");
  const [busy, start] = useTransition();
  const send = (file: File | undefined): void => {
    if (!file) return;
    start(async () => {
      const data = new FormData();
      const sent = await smallerPicture(file);
      if (sent.size > MOST_SENT)
        return setProblem("This picture is too large, and cannot be made smaller here. Save it as JPEG or PNG first.");
      data.set("picture", sent);
      data.set("what", what);
      const answer = await answered(keepPicture(slug, data));
      if (!answer) return;
      setProblem(answer.ok ? "" : answer.message);
      if (answer.ok) onChange(answer.hash);
    });
  };
  return (
    <Labelled label={label}>
      {(id) => (
        <>
          {hash && (
            // biome-ignore lint/performance/noImgElement: made small when it was kept
            <img
              src={`${at}/-/brand/${hash}`}
              alt=""
              className="max-h-20 w-auto justify-self-start rounded-sm border border-base-300 object-contain"
            />
          )}
          <input
            id={id}
            type="file"
            accept="image/png,image/jpeg,image/webp,image/gif,image/avif,image/svg+xml"
            className="file-input file-input-sm w-full"
            disabled={busy}
            onChange={(e) => send(e.target.files?.[0])}
          />
          {hash && (
            <button type="button" className="link-plain min-h-6 justify-self-start text-sm" onClick={() => onChange(null)}>
              Without it
            </button>
          )}
          {problem && (
            <p role="alert" className="field-error">
              {problem}
            </p>
          )}
        </>
      )}
    </Labelled>
  );
}
