"use client";
/** What a field is compared with: a value, records by name, something of the viewer, or a day counted from today. */
import type { OperandDraft } from "@/core/filter/edit";
import { dateAnchor } from "@/core/schema/condition";
import { isDated, isMoment, isYesNo } from "@/core/schema/fields/natures";
import { type Operator, takesList } from "@/core/schema/operators";
import { LOOKS } from "@/ui/forms/fields";
import type { PathChoice } from "./paths";
import { RecordPicker } from "./record-picker";

interface Props {
  portal: string;
  path: PathChoice;
  operator: Operator;
  operand: OperandDraft;
  onChange: (o: OperandDraft) => void;
}

export function FilterValue({ portal, path: p, operator, operand: o, onChange }: Props) {
  // What a viewer has is chosen in one step: "Assigned to is the person who looks".
  const theirs = [
    ...p.person.map((f) => ({ ...f, from: "person" as const })),
    ...p.company.map((f) => ({ ...f, from: "company" as const })),
    ...(p.bought ? [{ id: null, words: "what was bought one by one", from: "bought" as const }] : []),
  ].sort((a, b) => Number(a.id !== null) - Number(b.id !== null));
  const key = (from: string, field: string | null): string => `${from} ${field ?? ""}`;
  const choose = (chosen: string): void => {
    const of = theirs.find((f) => key(f.from, f.id) === chosen);
    onChange({ ...o, from: of?.from ?? (chosen as "literal" | "date"), values: [], field: of?.id ?? null });
  };
  return (
    <>
      {(theirs.length > 0 || isDated(p)) && (
        <select
          aria-label="Compared with"
          className="select select-sm w-auto max-w-full"
          value={o.from === "person" || o.from === "company" || o.from === "bought" ? key(o.from, o.field) : o.from}
          onChange={(e) => choose(e.target.value)}
        >
          {theirs.map((f) => (
            <option key={key(f.from, f.id)} value={key(f.from, f.id)}>
              {f.words}
            </option>
          ))}
          <option value="literal">{p.target ? "these records:" : "this value:"}</option>
          {isDated(p) && <option value="date">counted from:</option>}
        </select>
      )}
      {o.from === "date" ? (
        <FromToday o={o} moments={isMoment(p)} onChange={onChange} />
      ) : o.from === "literal" ? (
        <Literal portal={portal} path={p} list={takesList(operator)} o={o} onChange={onChange} />
      ) : null}
    </>
  );
}

/** "30 days before today"; the number is kept with its sign. */
function FromToday({ o, moments, onChange }: { o: OperandDraft; moments: boolean; onChange: (o: OperandDraft) => void }) {
  const before = o.days.startsWith("-");
  const n = o.days.replace(/^-/, "");
  return (
    <span className="flex items-center gap-2">
      <input
        aria-label="Days"
        className="input input-sm num w-16"
        inputMode="numeric"
        value={n}
        onChange={(e) => onChange({ ...o, days: `${before ? "-" : ""}${e.target.value}` })}
      />
      <select
        aria-label="Before or after"
        className="select select-sm w-auto"
        value={before ? "before" : "after"}
        onChange={(e) => onChange({ ...o, days: `${e.target.value === "before" ? "-" : ""}${n}` })}
      >
        <option value="before">days before</option>
        <option value="after">days after</option>
      </select>
      <select
        aria-label="Day"
        className="select select-sm w-auto"
        value={o.anchor}
        onChange={(e) => onChange({ ...o, anchor: dateAnchor.parse(e.target.value) })}
      >
        {dateAnchor.options
          .filter((a) => moments || a !== "now")
          .map((a) => (
            <option key={a}>{a}</option>
          ))}
      </select>
    </span>
  );
}

const YES_NO = [
  { id: "yes", name: "yes" },
  { id: "no", name: "no" },
];

function Literal({
  portal,
  path: p,
  list,
  o,
  onChange,
}: {
  portal: string;
  path: PathChoice;
  list: boolean;
  o: OperandDraft;
  onChange: (o: OperandDraft) => void;
}) {
  const put = (...values: string[]): void => onChange({ ...o, values });
  if (p.target) return <RecordPicker portal={portal} table={p.target} many={list} ids={o.values} onChange={(ids) => put(...ids)} />;
  if (list && p.choices.length > 0)
    return (
      <fieldset className="flex flex-wrap gap-x-4 gap-y-1 py-1" aria-label="Values">
        {p.choices.map((c) => (
          <label key={c.id} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={o.values.includes(c.id)}
              onChange={() => put(...(o.values.includes(c.id) ? o.values.filter((v) => v !== c.id) : [...o.values, c.id]))}
            />
            {c.name}
          </label>
        ))}
      </fieldset>
    );
  const choices = isYesNo(p) ? YES_NO : p.choices;
  if (choices.length > 0)
    return (
      <select
        aria-label="Value"
        className="select select-sm w-auto"
        value={o.values[0] ?? ""}
        onChange={(e) => put(...(e.target.value ? [e.target.value] : []))}
      >
        <option value="">Choose…</option>
        {choices.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </select>
    );
  if (list)
    return (
      <textarea
        aria-label="Values, one on each line"
        className="textarea textarea-sm w-56"
        rows={Math.min(6, Math.max(2, o.values.length + 1))}
        placeholder="one on each line"
        value={o.values.join("\n")}
        onChange={(e) => put(...e.target.value.split("\n"))}
      />
    );
  const look = LOOKS[p.type];
  return (
    <input
      aria-label="Value"
      className={`input input-sm ${look.keys ? "num w-28" : "w-48"}`}
      type={look.input === "date" ? "date" : "text"}
      placeholder={isMoment(p) ? "2026-06-15 09:00Z" : undefined}
      inputMode={look.keys}
      value={o.values[0] ?? ""}
      onChange={(e) => put(e.target.value)}
    />
  );
}
