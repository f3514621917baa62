"use client";
/** One value for several records: what it does to who sees them is said before it is done. */
import { useState, useTransition } from "react";
import { holdsFiles } from "@/core/schema/fields/natures";
import type { Field } from "@/core/schema/types";
import { answered } from "@/ui/answered";
import { movingWords } from "../../cells";

const PEOPLE = "t_people";
/** What an address holds. */
const MOST_PICKED = 100;

interface Props {
  portal: string;
  table: string;
  fields: readonly Field[];
  ids: readonly string[];
  onSet: (field: Field, text: string) => void;
  onLeave: () => void;
}

export function Several({ portal, table, fields, ids, onSet, onLeave }: Props) {
  const settable = fields.filter((f) => !f.system && !holdsFiles(f));
  const [id, setId] = useState(settable[0]?.id ?? "");
  const [text, setText] = useState("");
  const [asked, setAsked] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const field = settable.find((f) => f.id === id);
  const act = (): void =>
    start(async () => {
      if (!field) return;
      const words = asked === null && field.options.target ? await answered(movingWords(portal, table, field.id, text, [...ids])) : null;
      if (words) setAsked(words);
      else {
        setAsked(null);
        onSet(field, text);
      }
    });
  return (
    <form
      className="flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-200 px-4 py-2.5"
      aria-label="Several records"
      onSubmit={(e) => {
        e.preventDefault();
        act();
      }}
    >
      {table === PEOPLE && ids.length <= MOST_PICKED && (
        <a className="btn btn-sm order-last" href={`/portals/${portal}/people?ids=${ids.join(",")}#people`}>
          Invite them…
        </a>
      )}
      <span className="font-medium">{ids.length === 1 ? "One record" : `${ids.length} records`}:</span>
      <label className="flex items-center gap-2">
        set
        <select className="select select-sm w-44" value={id} onChange={(e) => setId(e.target.value)}>
          {settable.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      </label>
      <span className="flex items-center gap-2">
        to
        {field?.options.choices ? (
          <select aria-label="The value" className="select select-sm w-44" value={text} onChange={(e) => setText(e.target.value)}>
            <option value="">empty</option>
            {field.options.choices.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
          </select>
        ) : (
          <input
            aria-label="The value"
            className="input input-sm w-44"
            placeholder="empty"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        )}
      </span>
      {asked && <span role="alert">{asked}</span>}
      <button type="submit" className="btn btn-sm" disabled={busy || !field}>
        {asked ? "Do it all the same" : "Set it"}
      </button>
      <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={onLeave}>
        Choose none
      </button>
    </form>
  );
}
