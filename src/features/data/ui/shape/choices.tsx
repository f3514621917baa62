"use client";
/** The choices of a field, in their order. One that goes says what its records get instead. */
import { ArrowDown, ArrowUp, Plus, X } from "lucide-react";
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import { toast } from "sonner";
import { type Choice, TONES, type Tone } from "@/core/schema/types";
import { answered } from "@/ui/answered";
import { keepChoices } from "../../shaping";

const TONE_WORDS: Record<Tone, string> = { good: "Good", going: "Going on", waiting: "Waiting", trouble: "Trouble" };

interface Props {
  portal: string;
  id: string;
  seen: string;
  choices: readonly Choice[];
  counts: Record<string, number>;
}
interface Row {
  key: string;
  id: string | null;
  name: string;
  tone?: Tone | undefined;
}

export function Choices({ portal, id, seen, choices, counts }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [rows, setRows] = useState<Row[]>(choices.map((c) => ({ key: c.id, ...c })));
  const [instead, setInstead] = useState<Record<string, string | null>>({});
  const [message, setMessage] = useState<string | null>(null);
  const gone = choices.filter((c) => !rows.some((r) => r.id === c.id));
  const move = (at: number, by: -1 | 1): void =>
    setRows((all) => {
      const next = [...all];
      const [row] = next.splice(at, 1);
      next.splice(at + by, 0, row!);
      return next;
    });
  const keep = (): void =>
    start(async () => {
      const needed = Object.fromEntries(gone.filter((c) => counts[c.id]).map((c) => [c.id, instead[c.id] ?? null]));
      const given = { choices: rows.map(({ id: own, name, tone }) => ({ id: own, name, tone })), instead: needed };
      const answer = await answered(keepChoices(portal, id, seen, given));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      if (!answer.ok) return;
      toast.success("The choices are kept.");
      router.refresh();
    });
  return (
    <section className="sheet grid max-w-3xl gap-3 p-6" aria-label="Choices">
      <h2>Choices</h2>
      {message && (
        <p role="alert" className="alert alert-error">
          {message}
        </p>
      )}
      <ChoiceList rows={rows} setRows={setRows} move={move} counts={counts} />
      <button
        type="button"
        className="btn btn-sm justify-self-start"
        onClick={() =>
          setRows((all) => [...all, { key: `new ${all.length} ${Math.max(0, ...all.map((r) => r.key.length))}`, id: null, name: "" }])
        }
      >
        <Plus size={14} aria-hidden /> Another choice
      </button>
      {gone
        .filter((c) => counts[c.id])
        .map((c) => (
          <label key={c.id} className="flex flex-wrap items-center gap-2">
            {counts[c.id] === 1 ? "The record" : `The ${counts[c.id]} records`} with “{c.name}” get
            <select
              className="select select-sm w-48"
              value={instead[c.id] ?? ""}
              onChange={(e) => setInstead({ ...instead, [c.id]: e.target.value || null })}
            >
              <option value="">nothing</option>
              {rows
                .filter((r) => r.id)
                .map((r) => (
                  <option key={r.id} value={r.id!}>
                    {r.name}
                  </option>
                ))}
            </select>
          </label>
        ))}
      <div>
        <button type="button" className="btn" disabled={busy} onClick={keep}>
          Keep the choices
        </button>
      </div>
    </section>
  );
}

interface ChoiceListProps {
  readonly rows: Row[];
  readonly setRows: Dispatch<SetStateAction<Row[]>>;
  readonly move: (at: number, by: 1 | -1) => void;
  readonly counts: Record<string, number>;
}

/** Choices in their order. */
function ChoiceList({ rows, setRows, move, counts }: ChoiceListProps) {
  return (
    <ol className="grid gap-2">
      {rows.map((r, i) => (
        <li key={r.key} className="flex flex-wrap items-center gap-2">
          <input
            aria-label={`Choice ${i + 1}`}
            className="input input-sm w-64"
            value={r.name}
            onChange={(e) => setRows((all) => all.map((x, j) => (j === i ? { ...x, name: e.target.value } : x)))}
          />
          <select
            aria-label={`What choice ${i + 1} means`}
            className="select select-sm w-32"
            value={r.tone ?? ""}
            onChange={(e) => {
              const tone = TONES.find((t) => t === e.target.value);
              setRows((all) => all.map((x, j) => (j === i ? { ...x, tone } : x)));
            }}
          >
            <option value="">Plain</option>
            {TONES.map((t) => (
              <option key={t} value={t}>
                {TONE_WORDS[t]}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="btn btn-ghost btn-square size-7!"
            aria-label={`Move ${r.name} up`}
            disabled={i === 0}
            onClick={() => move(i, -1)}
          >
            <ArrowUp size={14} aria-hidden />
          </button>
          <button
            type="button"
            className="btn btn-ghost btn-square size-7!"
            aria-label={`Move ${r.name} down`}
            disabled={i === rows.length - 1}
            onClick={() => move(i, 1)}
          >
            <ArrowDown size={14} aria-hidden />
          </button>
          <button
            type="button"
            className="btn btn-ghost btn-square size-7!"
            aria-label={`Take ${r.name} away`}
            onClick={() => setRows((all) => all.filter((_, j) => j !== i))}
          >
            <X size={14} aria-hidden />
          </button>
          <span className="quiet text-sm">
            {r.id && counts[r.id] ? `${counts[r.id] === 1 ? "one record" : `${counts[r.id]} records`}` : ""}
          </span>
        </li>
      ))}
    </ol>
  );
}
