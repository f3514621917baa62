"use client";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { saveOut } from "./actions";

type Out = Parameters<typeof saveOut>[2];
type Way = Out["ways"][string];

interface Props {
  portal: string;
  id: string;
  system: string;
  /** Whether records made here can be made there. */
  makes: boolean;
  /** Fields that can go there, each with its column there. */
  fields: readonly { readonly id: string; readonly name: string; readonly column: string }[];
  out: Out;
}

const WAYS: readonly (readonly ["" | Way, string])[] = [
  ["", "Only comes in"],
  ["both", "Comes in and goes back"],
  ["out", "Only goes there"],
];
const RULES: readonly (readonly [Out["rule"], string])[] = [
  ["ask", "I am asked"],
  ["theirs", "The value there stays"],
  ["ours", "The value here stays"],
  ["later", "The later one stays"],
];

/** Which fields go back, whether new records do, and what stays where both sides changed the same. */
export function OutForm({ portal, id, system, makes: canMake, fields, out }: Props) {
  const [ways, setWays] = useState(out.ways);
  const [makes, setMakes] = useState(out.makes);
  const [rule, setRule] = useState(out.rule);
  const [busy, start] = useTransition();
  const any = Object.keys(ways).length > 0;
  const save = (): void =>
    start(async () => {
      const answer = await answered(saveOut(portal, id, { ways, makes: makes && any, rule }));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      else if (answer) toast("Saved.");
    });
  const set = (field: string, way: string): void => {
    const { [field]: _, ...rest } = ways;
    setWays(way === "" ? rest : { ...rest, [field]: way as Way });
  };
  return (
    <div className="grid gap-4">
      <ul className="divide-y divide-base-300">
        {fields.map((f) => (
          <li key={f.id} className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 py-1.5">
            <label htmlFor={`way-${id}-${f.id}`}>
              {f.name} {f.column !== f.name && <span className="quiet text-sm">is “{f.column}” there</span>}
            </label>
            <select
              id={`way-${id}-${f.id}`}
              className="select w-full sm:w-60"
              value={ways[f.id] ?? ""}
              onChange={(e) => set(f.id, e.target.value)}
            >
              {WAYS.map(([way, words]) => (
                <option key={way} value={way}>
                  {words}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
      {any && (
        <>
          {canMake && (
            <label className="flex items-start gap-2">
              <input type="checkbox" className="checkbox mt-0.5" checked={makes} onChange={(e) => setMakes(e.target.checked)} />
              Records made here are made in {system}, too
            </label>
          )}
          <div>
            <label className="field-label" htmlFor={`rule-${id}`}>
              Where both sides changed the same value
            </label>
            <select
              id={`rule-${id}`}
              className="select w-full sm:w-60"
              value={rule}
              onChange={(e) => setRule(e.target.value as Out["rule"])}
            >
              {RULES.map(([r, words]) => (
                <option key={r} value={r}>
                  {words}
                </option>
              ))}
            </select>
          </div>
        </>
      )}
      <div>
        <button type="button" className="btn btn-sm" disabled={busy} onClick={save}>
          Save what goes back
        </button>
      </div>
    </div>
  );
}
