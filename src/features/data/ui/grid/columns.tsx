"use client";
/** Columns picked, ordered and frozen, and views kept by name. */
import { ArrowDown, ArrowUp } from "lucide-react";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import type { Field } from "@/core/schema/types";
import type { View } from "@/data/views/views";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import { forgetView, rememberView } from "../../cells";
import { moved, ordered } from "./layout";

interface Props {
  portal: string;
  table: string;
  fields: readonly Field[];
  view: View;
  setView: (v: View) => void;
  /** Where a named view is opened. */
  named: readonly { id: string; name: string; href: string }[];
  /** The address's own part of a view: what is sorted and filtered. */
  query: string;
}

export function Columns({ portal, table, fields, view, setView, named, query }: Props) {
  const router = useRouter();
  const [name, setName] = useState("");
  const [message, setMessage] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const all = ordered(fields, view);
  const keep = (): void =>
    start(async () => {
      const answer = await answered(rememberView(portal, table, name, { ...view, query }));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      if (answer.ok) {
        setName("");
        router.refresh();
      }
    });
  return (
    <div className="grid gap-5 border-b border-base-300 p-4 sm:grid-cols-2">
      <ColumnChoice all={all} view={view} setView={setView} fields={fields} />
      <div className="grid content-start gap-2">
        <span className="field-label mb-0!">Views</span>
        <p className="quiet text-sm">
          How you leave the grid is how you find it. Under a name, everybody in the office finds it, with what is sorted and filtered.
        </p>
        {named.map((v) => (
          <span key={v.id} className="flex items-center gap-3">
            <Link className="link-plain" href={v.href}>
              {v.name}
            </Link>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Forget the view ${v.name}`}
              onClick={() =>
                start(async () => {
                  await answered(forgetView(portal, v.id));
                  router.refresh();
                })
              }
            >
              Forget
            </button>
          </span>
        ))}
        <form
          className="flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            keep();
          }}
        >
          <input aria-label="Name of the view" className="input input-sm w-44" value={name} onChange={(e) => setName(e.target.value)} />
          <button type="submit" className="btn btn-sm" disabled={busy || name.trim() === ""}>
            Keep this view
          </button>
        </form>
        {message && (
          <p role="alert" className="field-error">
            {message}
          </p>
        )}
      </div>
    </div>
  );
}

interface ColumnChoiceProps {
  readonly all: Field[];
  readonly view: View;
  readonly setView: (v: View) => void;
  readonly fields: readonly Field[];
}

/** Which columns are shown, in which order, and which stay in sight. */
function ColumnChoice({ all, view, setView, fields }: ColumnChoiceProps) {
  return (
    <fieldset className="grid content-start gap-1">
      <legend className="field-label">Columns</legend>
      {all.map((f, i) => (
        <span key={f.id} className="flex items-center gap-1">
          <label className="flex min-w-0 flex-1 items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={!view.hidden.includes(f.id)}
              onChange={(e) =>
                setView({ ...view, hidden: e.target.checked ? view.hidden.filter((x) => x !== f.id) : [...view.hidden, f.id] })
              }
            />
            <span className="truncate">{f.name}</span>
          </label>
          <button
            type="button"
            className="btn btn-ghost btn-square size-7!"
            aria-label={`Move ${f.name} to the left`}
            disabled={i === 0}
            onClick={() => setView(moved(fields, view, f.id, -1))}
          >
            <ArrowUp size={14} aria-hidden />
          </button>
          <button
            type="button"
            className="btn btn-ghost btn-square size-7!"
            aria-label={`Move ${f.name} to the right`}
            disabled={i === all.length - 1}
            onClick={() => setView(moved(fields, view, f.id, 1))}
          >
            <ArrowDown size={14} aria-hidden />
          </button>
        </span>
      ))}
      <label className="mt-2 flex items-center gap-2">
        <span className="quiet">Stay at the left while scrolling:</span>
        <select
          className="select select-sm w-36"
          value={view.frozen}
          onChange={(e) => setView({ ...view, frozen: Number(e.target.value) })}
        >
          {[0, 1, 2, 3].map((n) => (
            <option key={n} value={n}>
              {n === 0 ? "none" : n === 1 ? "the first" : `the first ${n}`}
            </option>
          ))}
        </select>
      </label>
    </fieldset>
  );
}
