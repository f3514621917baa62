"use client";
/** Another type for a field: tried first, with what would not convert, then done. */
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import type { FieldType } from "@/core/schema/fields";
import { hasDecimals, isDated, isMoney, isRelation } from "@/core/schema/fields/natures";
import type { Trial } from "@/data/schema/retype-convert";
import { answered } from "@/ui/answered";
import { giveType } from "../../shaping";
import { Choose, DateOrder, DigitsChoice, NewTable } from "./other-type-parts";

/** Stands for a table that is still to be made. */
const NEW = "new";

interface Props {
  portal: string;
  id: string;
  now: FieldType;
  /** What a table made of it would be called. */
  proposed: string;
  types: { id: FieldType; name: string }[];
  tables: { id: string; name: string; fields: { id: string; name: string }[] }[];
  currency: string;
  locale: string;
}

export function OtherType({ portal, id, now, proposed, types, tables, currency, locale }: Props) {
  const {
    busy,
    type,
    setType,
    target,
    setTarget,
    by,
    setBy,
    add,
    setAdd,
    name,
    setName,
    seen,
    setSeen,
    order,
    setOrder,
    decimals,
    setDecimals,
    trial,
    rest,
    setRest,
    message,
    n,
    relation,
    pointing,
    born,
    dated,
    change,
    ask,
  } = useOtherType({ portal, id, now, proposed, currency, locale });

  return (
    <section className="sheet grid max-w-3xl gap-4 p-6" aria-label="Another type">
      <div>
        <h2>Another type</h2>
        <p className="quiet mt-1 text-sm">Tried first: nothing changes before you have seen what would not convert.</p>
      </div>
      {message && (
        <p role="alert" className="alert alert-error">
          {message}
        </p>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <Choose label="It is to hold" value={type} of={types} empty="choose…" onChange={change((v: string) => setType(v as FieldType))} />
        {relation && (
          <Choose
            label="Pointing to"
            value={target}
            of={[...tables, ...(pointing ? [] : [{ id: NEW, name: "a new table" }])]}
            empty="choose…"
            onChange={change(setTarget)}
          />
        )}
        {relation && target && !born && (
          <Choose label="Met by" value={by} of={tables.find((t) => t.id === target)?.fields ?? []} empty="name" onChange={change(setBy)} />
        )}
        {relation && target && !born && target !== "t_people" && (
          <label className="flex items-center gap-2 pb-1.5">
            <input type="checkbox" className="checkbox checkbox-sm" checked={add} onChange={(e) => change(setAdd)(e.target.checked)} />
            make missing ones
          </label>
        )}
        {dated && <DateOrder order={order} change={change} setOrder={setOrder} />}
        {hasDecimals({ type }) && <DigitsChoice decimals={decimals} change={change} setDecimals={setDecimals} />}
        <button
          type="button"
          className="btn btn-sm"
          disabled={busy || type === "" || (relation && target === "") || (born && name.trim() === "")}
          onClick={() => ask(false)}
        >
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          Try it
        </button>
      </div>
      {born && <NewTable name={name} change={change} setName={setName} seen={seen} setSeen={setSeen} />}
      {trial && <Outcome trial={trial} rest={rest} setRest={setRest} busy={busy} n={n} act={() => ask(true)} />}
    </section>
  );
}

/** What is chosen, and what it would do. */
function useOtherType({
  portal,
  id,
  now,
  proposed,
  currency,
  locale,
}: Pick<Props, "portal" | "id" | "now" | "proposed" | "currency" | "locale">) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [type, setType] = useState<FieldType | "">("");
  const pointsTo = useTarget(proposed);
  const { target, by, add, name, seen } = pointsTo;
  const [order, setOrder] = useState<"iso" | "day-first" | "month-first">("iso");
  const [decimals, setDecimals] = useState("2");
  const [trial, setTrial] = useState<Trial | null>(null);
  const [rest, setRest] = useState<"empty" | "keep">("keep");
  const [message, setMessage] = useState<string | null>(null);
  const n = (x: number): string => x.toLocaleString(locale);
  const relation = isRelation({ type });
  const pointing = now === "relation" || now === "relations";
  const born = relation && target === NEW;
  const dated = isDated({ type });
  const change =
    <T,>(set: (v: T) => void) =>
    (v: T): void => {
      set(v);
      setTrial(null);
      setMessage(null);
    };

  const ask = (really: boolean): void =>
    start(async () => {
      if (type === "") return;
      const given = {
        field: id,
        type,
        options: {
          ...(relation && target && !born ? { target } : {}),
          ...(hasDecimals({ type }) ? { decimals: Number(decimals) } : {}),
          ...(isMoney({ type }) ? { currency } : {}),
        },
        reading: dated ? { order } : {},
        made: born ? { name, seen } : null,
        by: relation && !born ? by || null : null,
        add: relation && !born && add,
        rest: trial && trial.fails > 0 ? rest : ("refuse" as const),
      };
      const answer = await answered(giveType(portal, given, really));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      if (!answer.ok) return;
      setTrial(really ? null : answer.value);
      if (!really) return;
      setType("");
      toast.success(`${n(answer.value.converts)} values are converted.`);
      router.refresh();
    });
  return {
    ...pointsTo,
    busy,
    type,
    setType,
    order,
    setOrder,
    decimals,
    setDecimals,
    trial,
    rest,
    setRest,
    message,
    n,
    relation,
    pointing,
    born,
    dated,
    change,
    ask,
  };
}

interface OutcomeProps {
  trial: Trial;
  rest: "empty" | "keep";
  setRest: (r: "empty" | "keep") => void;
  busy: boolean;
  n: (x: number) => string;
  act: () => void;
}

function Outcome({ trial, rest, setRest, busy, n, act }: OutcomeProps) {
  return (
    <div className="grid gap-3" role="status">
      <p className="font-medium">
        {n(trial.converts)} {trial.converts === 1 ? "converts" : "convert"}, {n(trial.fails)} {trial.fails === 1 ? "does" : "do"} not
        {trial.empty > 0 && `, ${n(trial.empty)} ${trial.empty === 1 ? "is" : "are"} empty`}.
        {trial.choices > 0 && ` It becomes ${trial.choices === 1 ? "one choice" : `${n(trial.choices)} choices`}.`}
        {trial.made.length > 0 && ` Made on the way: ${trial.made.slice(0, 6).join(", ")}${trial.made.length > 6 ? " …" : ""}.`}
      </p>
      {trial.failing.length > 0 && (
        <div className="overflow-x-auto">
          <table className="grid-table">
            <thead>
              <tr>
                <th scope="col">Value</th>
                <th scope="col" className="num">
                  Records
                </th>
                <th scope="col">Why not</th>
              </tr>
            </thead>
            <tbody>
              {trial.failing.map((f) => (
                <tr key={f.text}>
                  <td className="font-medium">{f.text}</td>
                  <td className="num">{n(f.records)}</td>
                  <td>
                    {f.reason}
                    {f.nearest.length > 0 && ` Did you mean ${f.nearest.join(" or ")}?`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {trial.fails > 0 && (
        <fieldset className="grid gap-1.5">
          <legend className="field-label">Those that do not convert</legend>
          <label className="flex items-center gap-2">
            <input type="radio" name="rest" className="radio radio-sm" checked={rest === "keep"} onChange={() => setRest("keep")} />
            are kept as words in a field beside it
          </label>
          <label className="flex items-center gap-2">
            <input type="radio" name="rest" className="radio radio-sm" checked={rest === "empty"} onChange={() => setRest("empty")} />
            become empty
          </label>
        </fieldset>
      )}
      <div>
        <button type="button" className="btn btn-primary btn-sm" disabled={busy} onClick={act}>
          Change the type
        </button>
      </div>
    </div>
  );
}

/** Which table it is to point to, and how its records are found there; or the new table that the values become. */
function useTarget(proposed: string) {
  const [target, setTarget] = useState("");
  const [by, setBy] = useState("");
  const [add, setAdd] = useState(false);
  const [name, setName] = useState(proposed);
  const [seen, setSeen] = useState(false);
  return { target, setTarget, by, setBy, add, setAdd, name, setName, seen, setSeen };
}
