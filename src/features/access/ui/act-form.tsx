"use client";
import { Plus, X } from "lucide-react";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import type { Act } from "@/core/access/act";
import type { Operand } from "@/core/schema/condition";
import { choosesOne, isDay, isYesNo, pointsToOne } from "@/core/schema/fields/natures";
import type { FieldType } from "@/core/schema/types";
import { KeepOrCancel } from "@/office/ui/keep-or-cancel";
import { answered } from "@/ui/answered";
import { removeAct, saveAct } from "../acts";

interface Field {
  id: string;
  name: string;
  type: FieldType;
  choices: { id: string; name: string }[];
  target: string | null;
  /** Texts of numbers as they were typed, by act. */
  written: Readonly<Record<string, string>>;
}
interface Props {
  portal: string;
  revision: number;
  tables: { id: string; name: string; fields: Field[] }[];
  /** Null for a new one. */
  act: Act | null;
}

const ON: Record<Act["on"], string> = {
  change: "done with a record",
  add: "adds a record",
  talk: "is talking about a record",
  accept: "accepts a record as it stands",
};
const FIT: readonly FieldType[] = ["text", "long-text", "choice", "yes-no", "date", "relation", "number", "money", "percent"];

export function ActForm({ portal, revision, tables, act }: Props) {
  const [open, setOpen] = useState(false);
  const [a, setA] = useState<Omit<Act, "id">>(act ?? { name: "", table: tables[0]?.id ?? "", on: "change", sets: [] });
  const [problem, setProblem] = useState("");
  const [busy, start] = useTransition();
  const table = tables.find((t) => t.id === a.table);
  const fields = (table?.fields ?? []).filter(
    (f) => FIT.includes(f.type) && (!pointsToOne(f) || f.target === "t_people" || f.target === "t_companies"),
  );
  const keep = (): void =>
    start(async () => {
      const { accepts, ...rest } = a;
      const answer = await answered(
        saveAct(portal, {
          revision,
          act: {
            ...rest,
            id: act?.id ?? null,
            sets: a.on === "talk" ? [] : [...a.sets],
            ...(a.on === "accept" ? { accepts: accepts ?? [] } : {}),
          },
        }),
      );
      if (!answer) return;
      setProblem(answer.ok ? "" : answer.messages.join(" "));
      if (answer.ok) setOpen(false);
      if (answer.ok && !act) setA({ ...a, name: "", sets: [] });
    });
  const remove = (): void => start(async () => void (act && (await answered(removeAct(portal, revision, act.id)))));
  const put = (i: number, more: Partial<Act["sets"][number]>): void =>
    setA({ ...a, sets: a.sets.map((s, k) => (k === i ? { ...s, ...more } : s)) });
  if (!open)
    return (
      <span className="flex gap-3">
        <button type="button" className={act ? "link-plain min-h-6 text-sm" : "btn btn-sm"} onClick={() => setOpen(true)}>
          {act ? "Change" : "New act"}
          {act && <span className="sr-only"> the act {act.name}</span>}
        </button>
        {act && (
          <button type="button" className="link-plain min-h-6 text-sm" disabled={busy} onClick={remove}>
            Take away<span className="sr-only"> the act {act.name}</span>
          </button>
        )}
      </span>
    );
  return (
    <div className="grid gap-3 rounded-box border border-base-300 p-4">
      <ActName a={a} setA={setA} tables={tables} />
      {a.on === "accept" && <AcceptedFields table={table} a={a} setA={setA} />}
      {a.on !== "talk" && <SetFields a={a} fields={fields} act={act} put={put} setA={setA} />}
      <KeepOrCancel problem={problem} busy={busy} keep={keep} cancel={() => setOpen(false)} />
    </div>
  );
}

function first(f: Field): Operand {
  if (isDay(f)) return { kind: "date", anchor: "today", days: 0 };
  if (pointsToOne(f)) return { kind: "viewer", of: f.target === "t_companies" ? "company" : "person", field: null };
  if (isYesNo(f)) return { kind: "literal", value: true };
  return { kind: "literal", value: f.choices[0]?.id ?? "" };
}

function Value({ field, act, to, onChange }: { field: Field; act: string | null; to: Operand; onChange: (to: Operand) => void }) {
  if (to.kind === "date") return <span>today</span>;
  if (to.kind === "viewer") return <span>{to.of === "person" ? "whoever does it" : "their company"}</span>;
  if (choosesOne(field) || isYesNo(field)) {
    const options = choosesOne(field)
      ? field.choices
      : [
          { id: "true", name: "yes" },
          { id: "false", name: "no" },
        ];
    return (
      <select
        aria-label={`What ${field.name} is set to`}
        className="select select-sm w-auto"
        value={String(to.value)}
        onChange={(e) => onChange({ kind: "literal", value: choosesOne(field) ? e.target.value : e.target.value === "true" })}
      >
        {options.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </select>
    );
  }
  return (
    <input
      aria-label={`What ${field.name} is set to`}
      className="input input-sm w-40"
      defaultValue={typeof to.value === "number" ? (field.written[act ?? ""] ?? "") : String(to.value)}
      onChange={(e) => onChange({ kind: "literal", value: e.target.value })}
    />
  );
}

interface SetFieldsProps {
  readonly a: Omit<Act, "id">;
  readonly fields: Field[];
  readonly act: Act | null;
  readonly put: (i: number, more: Partial<{ field: string; to: Operand }>) => void;
  readonly setA: Dispatch<SetStateAction<Omit<Act, "id">>>;
}

/** What the act sets. */
function SetFields({ a, fields, act, put, setA }: SetFieldsProps) {
  return (
    <ul className="grid gap-2">
      {a.sets.map((s, i) => {
        const field = fields.find((f) => f.id === s.field);
        return (
          <li key={s.field} className="flex flex-wrap items-center gap-2 text-sm">
            <span className="quiet">sets</span> {field?.name ?? "a field that is gone"} <span className="quiet">to</span>
            {field && <Value field={field} act={act?.id ?? null} to={s.to} onChange={(to) => put(i, { to })} />}
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Leave ${field?.name ?? "it"} alone`}
              onClick={() => setA({ ...a, sets: a.sets.filter((_, k) => k !== i) })}
            >
              <X size={13} aria-hidden />
            </button>
          </li>
        );
      })}
      <li>
        <label className="flex items-center gap-2 text-sm">
          <Plus size={13} aria-hidden />
          <span className="sr-only">Set a field</span>
          <select
            className="select select-sm w-auto"
            value=""
            onChange={(e) => {
              const field = fields.find((f) => f.id === e.target.value);
              if (field) setA({ ...a, sets: [...a.sets, { field: field.id, to: first(field) }] });
            }}
          >
            <option value="">Set a field…</option>
            {fields
              .filter((f) => !a.sets.some((s) => s.field === f.id))
              .map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name}
                </option>
              ))}
          </select>
        </label>
      </li>
    </ul>
  );
}

interface ActNameProps {
  readonly a: Omit<Act, "id">;
  readonly setA: Dispatch<SetStateAction<Omit<Act, "id">>>;
  readonly tables: { id: string; name: string; fields: Field[] }[];
}

/** What it is called, and on which table. */
function ActName({ a, setA, tables }: ActNameProps) {
  return (
    <div className="flex flex-wrap items-end gap-3">
      <label className="grid gap-1 text-sm font-medium">
        Called
        <input className="input input-sm" value={a.name} maxLength={80} onChange={(e) => setA({ ...a, name: e.target.value })} />
      </label>
      <label className="grid gap-1 text-sm font-medium">
        On
        <select className="select select-sm" value={a.table} onChange={(e) => setA({ ...a, table: e.target.value, sets: [], accepts: [] })}>
          {tables.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </select>
      </label>
      <label className="grid gap-1 text-sm font-medium">
        It is
        <select className="select select-sm" value={a.on} onChange={(e) => setA({ ...a, on: e.target.value as Act["on"] })}>
          {(["change", "add", "talk", "accept"] as const).map((o) => (
            <option key={o} value={o}>
              {ON[o]}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}

interface AcceptedFieldsProps {
  readonly table: { id: string; name: string; fields: Field[] } | undefined;
  readonly a: Omit<Act, "id">;
  readonly setA: Dispatch<SetStateAction<Omit<Act, "id">>>;
}

/** What is accepted by it. */
function AcceptedFields({ table, a, setA }: AcceptedFieldsProps) {
  return (
    <fieldset className="grid gap-1 text-sm">
      <legend className="font-medium">What is accepted: whoever may not read all of it cannot accept it</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {(table?.fields ?? []).map((f) => (
          <label key={f.id} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={a.accepts?.includes(f.id) ?? false}
              onChange={(e) =>
                setA({ ...a, accepts: [...(a.accepts ?? []).filter((x) => x !== f.id), ...(e.target.checked ? [f.id] : [])] })
              }
            />
            {f.name}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
