"use client";
/** One grant: who, may do what, on which records, with which fields. It reads as a sentence from top to bottom. */
import { Plus, X } from "lucide-react";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { ACTIONS, type Action } from "@/core/access/policy";
import { type GrantInput, saveGrant } from "../actions";
import type { PathChoice } from "../queries";

interface Props {
  portal: string;
  back: string;
  grant: Omit<GrantInput, "tests" | "keepFilter">;
  tests: GrantInput["tests"] | null;
  filterWords: string;
  tableName: string;
  roles: { id: string; name: string; side: string }[];
  fields: { id: string; name: string; system: boolean }[];
  features: { id: string; name: string }[];
  paths: PathChoice[];
}

const ACTION_WORDS: Record<Action, string> = { see: "see", add: "add", change: "change", remove: "remove", export: "download" };
const SIDES: Record<string, string> = { client: "Client roles", agency: "Agency roles", visitor: "Visitors" };
const toggled = <T,>(list: readonly T[], x: T): T[] => (list.includes(x) ? list.filter((y) => y !== x) : [...list, x]);

export function GrantEditor({ portal, back, grant, tests: given, filterWords, tableName, roles, fields, features, paths }: Props) {
  const router = useRouter();
  const [g, setG] = useState(grant);
  const [tests, setTests] = useState(given ?? []);
  const [messages, setMessages] = useState<string[]>([]);
  const [busy, start] = useTransition();
  const writes = g.actions.includes("add") || g.actions.includes("change");
  const save = () =>
    start(async () => {
      const answer = await saveGrant(portal, { ...g, changes: writes ? g.changes : [], tests, keepFilter: given === null });
      if (answer.ok) router.push(back);
      else setMessages(answer.messages);
    });
  const box = (on: boolean, label: string, change: () => void, key: string, disabled = false) => (
    <label key={key} className="flex items-center gap-2">
      <input type="checkbox" className="checkbox checkbox-sm" checked={on} onChange={change} disabled={disabled} />
      {label}
    </label>
  );
  return (
    <div className="grid gap-6">
      {messages.length > 0 && (
        <div role="alert" className="alert alert-error">
          {messages.join(" ")}
        </div>
      )}
      <fieldset className="sheet grid gap-3 p-5">
        <legend className="title float-left font-semibold">Who</legend>
        {Object.entries(SIDES).map(([side, words]) => (
          <div key={side} className="grid gap-x-4 gap-y-1 sm:grid-cols-[7rem_1fr]">
            <span className="quiet">{words}</span>
            <span className="flex flex-wrap gap-x-5 gap-y-2">
              {roles
                .filter((r) => r.side === side)
                .map((r) => box(g.roles.includes(r.id), r.name, () => setG({ ...g, roles: toggled(g.roles, r.id) }), r.id))}
            </span>
          </div>
        ))}
      </fieldset>
      <fieldset className="sheet flex flex-wrap items-center gap-x-5 gap-y-2 p-5">
        <legend className="title float-left mr-2 font-semibold">may</legend>
        {ACTIONS.map((a) => box(g.actions.includes(a), ACTION_WORDS[a], () => setG({ ...g, actions: toggled(g.actions, a) }), a))}
        <span className="title font-semibold">{tableName}</span>
      </fieldset>
      <fieldset className="sheet grid gap-3 p-5">
        <legend className="title float-left font-semibold">where</legend>
        {given === null ? (
          <p>
            {filterWords} <span className="quiet">This filter is nested; it is kept as it is.</span>
          </p>
        ) : (
          <>
            {tests.length === 0 && <p className="quiet">No test: every record inside the wall.</p>}
            {tests.map((t, i) => (
              <TestRow
                key={placeKey(i, tests.length)}
                first={i === 0}
                test={t}
                paths={paths}
                onChange={(x) => setTests(tests.map((y, j) => (j === i ? x : y)))}
                onRemove={() => setTests(tests.filter((_, j) => j !== i))}
              />
            ))}
            <button
              type="button"
              className="btn btn-sm justify-self-start"
              onClick={() =>
                setTests([
                  ...tests,
                  { path: paths[0]!.path, operator: paths[0]!.operators[0]!.id, value: "", from: "literal", field: null },
                ])
              }
            >
              <Plus size={14} aria-hidden /> Add a test
            </button>
          </>
        )}
      </fieldset>
      <fieldset className="sheet p-5">
        <legend className="title float-left font-semibold">with these fields</legend>
        <table className="grid-table mt-9 max-w-xl">
          <thead>
            <tr>
              <th scope="col">Field</th>
              <th scope="col">seen</th>
              {writes && <th scope="col">may be set</th>}
            </tr>
          </thead>
          <tbody>
            {fields.map((f) => (
              <tr key={f.id}>
                <td>{f.name}</td>
                <td>
                  <input
                    type="checkbox"
                    className="checkbox checkbox-sm"
                    aria-label={`${f.name} is seen`}
                    checked={g.fields.includes(f.id)}
                    onChange={() => setG({ ...g, fields: toggled(g.fields, f.id) })}
                  />
                </td>
                {writes && (
                  <td>
                    {f.system ? (
                      <span className="quiet">by Elkhorn alone</span>
                    ) : (
                      <input
                        type="checkbox"
                        className="checkbox checkbox-sm"
                        aria-label={`${f.name} may be set`}
                        checked={g.changes.includes(f.id)}
                        onChange={() => setG({ ...g, changes: toggled(g.changes, f.id) })}
                      />
                    )}
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
        <button
          type="button"
          className="link-plain mt-3 text-sm"
          onClick={() => setG({ ...g, fields: g.fields.length === fields.length ? [] : fields.map((f) => f.id) })}
        >
          {g.fields.length === fields.length ? "Hide all" : "Show all"}
        </button>
      </fieldset>
      <label className="sheet flex flex-wrap items-center gap-3 p-5">
        <span className="title font-semibold">while the company's plan includes</span>
        <select className="select min-w-48" value={g.feature ?? ""} onChange={(e) => setG({ ...g, feature: e.target.value || null })}>
          <option value="">anything, or nothing</option>
          {features.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      </label>
      <div className="flex items-center gap-4">
        <button type="button" className="btn btn-primary" onClick={save} disabled={busy}>
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          Keep in the draft
        </button>
        <a className="link-plain" href={back}>
          Cancel
        </a>
      </div>
    </div>
  );
}

/** Rows hold no state of their own and two tests may be alike, so a row is its place in the list. */
const placeKey = (i: number, of: number): string => `${i} of ${of}`;

type Test = GrantInput["tests"][number];

function TestRow({
  first,
  test: t,
  paths,
  onChange,
  onRemove,
}: {
  first: boolean;
  test: Test;
  paths: PathChoice[];
  onChange: (t: Test) => void;
  onRemove: () => void;
}) {
  const p = paths.find((x) => x.path.join() === t.path.join());
  const operator = p?.operators.find((o) => o.id === t.operator);
  const pick = (key: string) => {
    const next = paths.find((x) => x.path.join() === key)!;
    onChange({
      path: next.path,
      operator: next.operators[0]!.id,
      value: "",
      from: next.person.length > 0 && next.type === "relation" ? "person" : "literal",
      field: next.person[0]?.id ?? null,
    });
  };
  const of = t.from === "person" ? p?.person : t.from === "company" ? p?.company : undefined;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span className="quiet w-9">{first ? "" : "and"}</span>
      <select aria-label="Field" className="select select-sm max-w-72" value={t.path.join()} onChange={(e) => pick(e.target.value)}>
        {!p && <option value={t.path.join()}>a missing field</option>}
        {paths.map((x) => (
          <option key={x.path.join()} value={x.path.join()}>
            {x.words}
          </option>
        ))}
      </select>
      <select
        aria-label="Comparison"
        className="select select-sm w-auto"
        value={t.operator}
        onChange={(e) => onChange({ ...t, operator: e.target.value })}
      >
        {p?.operators.map((o) => (
          <option key={o.id} value={o.id}>
            {o.words}
          </option>
        ))}
      </select>
      {!operator?.noValue && (
        <>
          <select
            aria-label="Compared with"
            className="select select-sm w-auto"
            value={t.from}
            onChange={(e) => {
              const from = e.target.value as Test["from"];
              onChange({
                ...t,
                from,
                value: "",
                field: (from === "person" ? p?.person[0]?.id : from === "company" ? p?.company[0]?.id : null) ?? null,
              });
            }}
          >
            {p?.type !== "relation" && p?.type !== "relations" && <option value="literal">this value</option>}
            {(p?.type === "relation" || p?.type === "relations") && <option value="literal">this record (its id)</option>}
            {(p?.person.length ?? 0) > 0 && <option value="person">of the person:</option>}
            {(p?.company.length ?? 0) > 0 && <option value="company">of their company:</option>}
            {p?.type === "date" && <option value="date">days from today</option>}
          </select>
          {of ? (
            <select
              aria-label="Which of theirs"
              className="select select-sm w-auto"
              value={t.field ?? ""}
              onChange={(e) => onChange({ ...t, field: e.target.value || null })}
            >
              {of.map((f) => (
                <option key={f.id ?? ""} value={f.id ?? ""}>
                  {f.words}
                </option>
              ))}
            </select>
          ) : p && p.choices.length > 0 && !t.operator.includes("of") && !t.operator.startsWith("has") ? (
            <select
              aria-label="Value"
              className="select select-sm w-auto"
              value={t.value}
              onChange={(e) => onChange({ ...t, value: e.target.value })}
            >
              <option value="">Choose…</option>
              {p.choices.map((c) => (
                <option key={c}>{c}</option>
              ))}
            </select>
          ) : (
            <input
              aria-label="Value"
              className="input input-sm w-48"
              type={p?.type === "date" && t.from === "literal" && t.operator !== "between" ? "date" : "text"}
              placeholder={
                t.from === "date"
                  ? "-30 is a month ago"
                  : t.operator === "between"
                    ? "from; to"
                    : t.operator.endsWith("of") || t.operator.startsWith("has")
                      ? "one; another"
                      : ""
              }
              value={t.value}
              onChange={(e) => onChange({ ...t, value: e.target.value })}
            />
          )}
        </>
      )}
      <button type="button" className="btn btn-ghost btn-sm btn-square" aria-label="Take this test away" onClick={onRemove}>
        <X size={14} aria-hidden />
      </button>
    </div>
  );
}
