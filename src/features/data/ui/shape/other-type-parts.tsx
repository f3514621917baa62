"use client";
import type { Dispatch, SetStateAction } from "react";

interface NewTableProps {
  readonly name: string;
  readonly change: <T>(set: (v: T) => void) => (v: T) => void;
  readonly setName: Dispatch<SetStateAction<string>>;
  readonly seen: boolean;
  readonly setSeen: Dispatch<SetStateAction<boolean>>;
}

/** The table that the values become records of. */
export function NewTable({ name, change, setName, seen, setSeen }: NewTableProps) {
  return (
    <div className="grid gap-3">
      <label className="grid gap-1 text-sm">
        <span className="quiet">The new table's name</span>
        <input className="input input-sm w-64" value={name} maxLength={60} onChange={(e) => change(setName)(e.target.value)} />
      </label>
      <fieldset className="grid gap-1.5">
        <legend className="field-label">Who sees the names</legend>
        <label className="flex items-start gap-2">
          <input type="radio" name="seen" className="radio radio-sm mt-0.5" checked={!seen} onChange={() => change(setSeen)(false)} />
          the agency alone: clients no longer see what this field says, until you open the new table to them
        </label>
        <label className="flex items-start gap-2">
          <input type="radio" name="seen" className="radio radio-sm mt-0.5" checked={seen} onChange={() => change(setSeen)(true)} />
          whoever sees this field now: each of them may then see all of the names, those of other companies' records too
        </label>
      </fieldset>
    </div>
  );
}

interface DateOrderProps {
  readonly order: "iso" | "day-first" | "month-first";
  readonly change: <T>(set: (v: T) => void) => (v: T) => void;
  readonly setOrder: Dispatch<SetStateAction<"iso" | "day-first" | "month-first">>;
}

/** In which order days are written. */
export function DateOrder({ order, change, setOrder }: DateOrderProps) {
  return (
    <Choose
      label="Written"
      value={order}
      of={[
        { id: "iso", name: "year-month-day" },
        { id: "day-first", name: "day/month/year" },
        { id: "month-first", name: "month/day/year" },
      ]}
      onChange={change((v: string) => setOrder(v as typeof order))}
    />
  );
}

interface DigitsChoiceProps {
  readonly decimals: string;
  readonly change: <T>(set: (v: T) => void) => (v: T) => void;
  readonly setDecimals: Dispatch<SetStateAction<string>>;
}

/** How many digits stand after the point. */
export function DigitsChoice({ decimals, change, setDecimals }: DigitsChoiceProps) {
  return (
    <Choose
      label="Digits after the point"
      value={decimals}
      of={["0", "1", "2", "3", "4"].map((d) => ({ id: d, name: d }))}
      onChange={change(setDecimals)}
    />
  );
}

export interface ChooseProps {
  label: string;
  value: string;
  of: readonly { id: string; name: string }[];
  empty?: string;
  onChange: (v: string) => void;
}

export function Choose({ label, value, of, empty, onChange }: ChooseProps) {
  return (
    <label className="grid gap-1 text-sm">
      <span className="quiet">{label}</span>
      <select className="select select-sm w-44" value={value} onChange={(e) => onChange(e.target.value)}>
        {empty !== undefined && <option value="">{empty}</option>}
        {of.map((t) => (
          <option key={t.id} value={t.id}>
            {t.name}
          </option>
        ))}
      </select>
    </label>
  );
}
