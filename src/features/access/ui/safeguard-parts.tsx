"use client";
/** The parts of a safeguard's sentence, each with its label and what is wrong with it. */
import { type ReactNode, useId } from "react";
import { RecordPicker } from "@/office/filter/record-picker";

export function Part({ label, error, children }: { label: string; error?: string | undefined; children: (id: string) => ReactNode }) {
  const id = useId();
  return (
    <div>
      <label className="field-label" htmlFor={id}>
        {label}
      </label>
      {children(id)}
      <p id={`${id}-error`} className="field-error">
        {error}
      </p>
    </div>
  );
}

interface ChoiceProps {
  id: string;
  value: string;
  onChange: (v: string) => void;
  of: readonly (readonly [string, string])[];
  none?: string;
}

export function Choice({ id, value, onChange, of, none }: ChoiceProps) {
  return (
    <select id={id} className="select w-full" value={value} onChange={(e) => onChange(e.target.value)} aria-describedby={`${id}-error`}>
      {none && (
        <option value="" disabled>
          {none}
        </option>
      )}
      {of.map(([v, words]) => (
        <option key={v} value={v}>
          {words}
        </option>
      ))}
    </select>
  );
}

interface NamedProps {
  label: string;
  error: string | undefined;
  portal: string;
  table: string;
  id: string;
  onId: (id: string) => void;
}

/** Picks one record by its name. */
export function Named({ label, error, portal, table, id, onId }: NamedProps) {
  return (
    <fieldset>
      <legend className="field-label">{label}</legend>
      <RecordPicker portal={portal} table={table} many={false} wide ids={id ? [id] : []} onChange={(ids) => onId(ids[0] ?? "")} />
      <p className="field-error">{error}</p>
    </fieldset>
  );
}
