"use client";
/** Files of a form: sent piece by piece as soon as they are chosen; the form itself carries their ids alone. */
import { Paperclip, RotateCcw, X } from "lucide-react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import type { Upload as Sending } from "tus-js-client";
import type { ClientWords } from "@/ui/words";
import { useWords } from "../words";
import { useUploadsAround } from "./uploads";

interface Held {
  readonly value: string;
  readonly label: string;
}
interface Props {
  field: string;
  pictures: boolean;
  held: readonly Held[];
  uploads: string;
  disabled?: boolean;
  /** Told of the ids after each change. */
  onChange?: (ids: string[]) => void;
  /** Beneath, with a way to add what is there already. */
  more?: (held: readonly Held[], add: (f: Held) => void) => ReactNode;
}
interface Coming {
  readonly key: number;
  readonly file: File;
  readonly name: string;
  /** From 0 to 1. */
  readonly sent: number;
  readonly error?: string;
}

const PIECE = 4 * 1024 * 1024;
let keys = 0;

/** Files of a field: dropped or chosen, sent in pieces, taken away again. */
export function FileBox({ field, pictures, held, uploads, disabled, onChange, more }: Props) {
  const words = useWords();
  const [files, setFiles] = useState<readonly Held[]>(held);
  const [coming, setComing] = useState<readonly Coming[]>([]);
  const around = useUploadsAround();
  const under = useRef(new Map<number, Sending>());
  // After what has arrived stands in the form: whoever waits for it reads the form next.
  useEffect(
    () =>
      around?.tell(
        field,
        coming.map((c) => ({ name: c.name, failed: c.error !== undefined })),
      ),
    [around, field, coming],
  );
  useEffect(() => () => around?.tell(field, []), [around, field]);
  const keep = (change: (all: readonly Held[]) => readonly Held[]): void =>
    setFiles((all) => {
      const next = change(all);
      onChange?.(next.map((f) => f.value));
      return next;
    });
  const tell = (key: number, more: Partial<Coming>): void => setComing((all) => all.map((c) => (c.key === key ? { ...c, ...more } : c)));

  const drop = (key: number): void => {
    under.current
      .get(key)
      ?.abort(true)
      .catch(() => {}); // what has come of it is swept if this does not reach the server
    under.current.delete(key);
    setComing((all) => all.filter((c) => c.key !== key));
  };
  const send = async (file: File): Promise<void> => {
    const key = ++keys;
    setComing((all) => [...all, { key, file, name: file.name, sent: 0 }]);
    const broken = (): void => tell(key, { error: words["files.broken"] });
    const tus = await import("tus-js-client").catch(broken); // only who sends files needs it
    if (!tus) return;
    const upload = new tus.Upload(file, {
      endpoint: uploads,
      chunkSize: PIECE,
      retryDelays: [0, 1000, 3000, 8000],
      metadata: { filename: file.name, field },
      onProgress: (sent, all) => tell(key, { sent: all > 0 ? sent / all : 0 }),
      onError: (e) => {
        const body = "originalResponse" in e ? e.originalResponse?.getBody() : "";
        tell(key, { error: body?.trim() || words["files.broken"] });
      },
      onSuccess: () => {
        const id = upload.url?.split("/").pop();
        if (!id) return broken();
        under.current.delete(key);
        setComing((all) => all.filter((c) => c.key !== key));
        keep((all) => [...all, { value: id, label: file.name }]);
      },
    });
    under.current.set(key, upload);
    upload.start();
  };

  return (
    <div className="grid gap-2">
      {/* So that taking all away is said, too. */}
      <input type="hidden" name={field} value="" />
      {files.map((f) => (
        <HeldFile key={f.value} f={f} field={field} disabled={disabled} words={words} keep={keep} />
      ))}
      {coming.map((c) => (
        <ComingFile key={c.key} c={c} words={words} drop={drop} send={send} />
      ))}
      {!disabled && <ChooseFiles field={field} pictures={pictures} send={send} />}
      {more?.(files, (f) => keep((all) => [...all, f]))}
    </div>
  );
}

interface ComingFileProps {
  readonly c: Coming;
  readonly words: ClientWords;
  readonly drop: (key: number) => void;
  readonly send: (file: File) => Promise<void>;
}

/** A file on its way: how far it is, or why it did not come. */
function ComingFile({ c, words, drop, send }: ComingFileProps) {
  return (
    <span className="flex flex-wrap items-center gap-2" role="status">
      {c.name}
      {c.error ? (
        <span role="alert" className="field-error">
          {c.error}
        </span>
      ) : (
        <progress className="progress progress-primary w-40" value={c.sent < 1 ? c.sent : undefined} max={1} aria-label={c.name} />
      )}
      {c.error && (
        <button
          type="button"
          className="btn btn-ghost btn-square size-7!"
          aria-label={`${words["files.again"]}: ${c.name}`}
          title={words["files.again"]}
          onClick={() => {
            drop(c.key);
            void send(c.file);
          }}
        >
          <RotateCcw size={14} aria-hidden />
        </button>
      )}
      <button
        type="button"
        className="btn btn-ghost btn-square size-7!"
        aria-label={`${words["files.take-away"]} ${c.name}`}
        onClick={() => drop(c.key)}
      >
        <X size={14} aria-hidden />
      </button>
    </span>
  );
}

interface HeldFileProps {
  readonly f: Held;
  readonly field: string;
  readonly disabled: boolean | undefined;
  readonly words: ClientWords;
  readonly keep: (change: (all: readonly Held[]) => readonly Held[]) => void;
}

/** A file that the field holds. */
function HeldFile({ f, field, disabled, words, keep }: HeldFileProps) {
  return (
    <span className="flex items-center gap-2">
      <input type="hidden" name={field} value={f.value} />
      <Paperclip size={14} aria-hidden /> {f.label}
      {!disabled && (
        <button
          type="button"
          className="btn btn-ghost btn-square size-7!"
          aria-label={`${words["files.take-away"]} ${f.label}`}
          onClick={() => keep((all) => all.filter((x) => x.value !== f.value))}
        >
          <X size={14} aria-hidden />
        </button>
      )}
    </span>
  );
}

interface ChooseFilesProps {
  readonly field: string;
  readonly pictures: boolean;
  readonly send: (file: File) => Promise<void>;
}

/** The browser's own box, which the button opens. */
function ChooseFiles({ field, pictures, send }: ChooseFilesProps) {
  return (
    <input
      id={`${field}-choose`}
      type="file"
      multiple
      accept={pictures ? "image/jpeg,image/png,image/webp,image/gif" : undefined}
      className="file-input w-full max-w-md"
      onChange={(e) => {
        for (const f of e.target.files ?? []) void send(f);
        e.target.value = "";
      }}
    />
  );
}
