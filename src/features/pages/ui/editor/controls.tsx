"use client";
/** The few controls that all settings are made of. */
import { ArrowDown, ArrowUp, X } from "lucide-react";
import { type ReactNode, useId, useState } from "react";

interface Labelled {
  label: string;
  hint?: string;
}

export function Row({ label, hint, children, id }: Labelled & { children: ReactNode; id?: string }) {
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-sm font-medium">
        {label}
      </label>
      {children}
      {hint && <p className="quiet text-sm">{hint}</p>}
    </div>
  );
}

export interface Option {
  value: string;
  label: string;
}

export function Choose({
  label,
  hint,
  value,
  options,
  onChange,
}: Labelled & { value: string; options: readonly Option[]; onChange: (v: string) => void }) {
  const id = useId();
  return (
    <Row label={label} id={id} {...(hint ? { hint } : {})}>
      <select id={id} className="select select-sm w-full" value={value} onChange={(e) => onChange(e.target.value)}>
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </select>
    </Row>
  );
}

/** What is typed is kept once typing rests or the field is left. */
export function Words({
  label,
  hint,
  value,
  onChange,
  lines = 1,
  placeholder,
}: Labelled & { value: string; onChange: (v: string) => void; lines?: number; placeholder?: string }) {
  const id = useId();
  const shared = {
    id,
    value,
    placeholder,
    onChange: (e: { target: { value: string } }) => onChange(e.target.value),
  };
  return (
    <Row label={label} id={id} {...(hint ? { hint } : {})}>
      {lines === 1 ? (
        <input type="text" className="input input-sm w-full" {...shared} />
      ) : (
        <textarea rows={lines} className="textarea textarea-sm w-full" {...shared} />
      )}
    </Row>
  );
}

export function Amount({
  label,
  value,
  least,
  most,
  onChange,
}: Labelled & { value: number; least: number; most: number; onChange: (n: number) => void }) {
  const id = useId();
  return (
    <Row label={label} id={id}>
      <input
        id={id}
        type="number"
        className="input input-sm w-24"
        min={least}
        max={most}
        defaultValue={value}
        key={value}
        onChange={(e) => {
          const n = Number(e.target.value);
          if (Number.isInteger(n) && n >= least && n <= most) onChange(n);
        }}
      />
    </Row>
  );
}

export function Check({ label, value, onChange }: { label: string; value: boolean; onChange: (v: boolean) => void }) {
  return (
    <label className="flex min-h-7 items-center gap-2 text-sm">
      <input type="checkbox" className="checkbox checkbox-sm" checked={value} onChange={(e) => onChange(e.target.checked)} />
      {label}
    </label>
  );
}

export interface Picked {
  field: string;
  name?: string | undefined;
}

/** Fields picked from a table, in order and under names of one's own. `null` is all of them, as they come. */
export function FieldsPicker<P extends Picked>({
  label,
  fields,
  value,
  make,
  onChange,
}: {
  label: string;
  fields: readonly { id: string; name: string }[];
  value: readonly P[] | null;
  make: (field: string) => P;
  onChange: (v: P[] | null) => void;
}) {
  const nameOf = (id: string): string => fields.find((f) => f.id === id)?.name ?? "a field that is gone";
  const left = fields.filter((f) => !value?.some((x) => x.field === f.id));
  if (value === null)
    return (
      <Row label={label}>
        <div className="flex items-center justify-between gap-2 text-sm">
          <span className="quiet">All that the reader sees</span>
          <button type="button" className="btn btn-xs" onClick={() => onChange(fields.map((f) => make(f.id)))}>
            Pick them
          </button>
        </div>
      </Row>
    );
  const swap = (i: number, j: number): void => {
    const next = [...value];
    [next[i], next[j]] = [next[j]!, next[i]!];
    onChange(next);
  };
  return (
    <fieldset className="grid gap-1">
      <legend className="flex w-full items-center justify-between text-sm font-medium">
        {label}
        <button type="button" className="link-plain min-h-6 font-normal" onClick={() => onChange(null)}>
          All of them again
        </button>
      </legend>
      <ul className="grid gap-1">
        {value.map((x, i) => (
          <PickedField
            key={x.field}
            field={nameOf(x.field)}
            name={x.name ?? ""}
            onName={(name) => onChange(value.map((y, k) => (k === i ? { ...y, name: name || undefined } : y)))}
            onUp={i === 0 ? null : () => swap(i, i - 1)}
            onDown={i === value.length - 1 ? null : () => swap(i, i + 1)}
            onOut={() => onChange(value.filter((_, k) => k !== i))}
          />
        ))}
      </ul>
      {left.length > 0 && (
        <select
          aria-label={`Add to ${label}`}
          className="select select-sm w-full"
          value=""
          onChange={(e) => onChange([...value, make(e.target.value)])}
        >
          <option value="">Add a field…</option>
          {left.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      )}
    </fieldset>
  );
}

/** Several of what is offered. */
export function Several({
  label,
  options,
  value,
  onChange,
  none,
}: {
  label: string;
  options: readonly Option[];
  value: readonly string[];
  onChange: (v: string[]) => void;
  none: string;
}) {
  const [open, setOpen] = useState(false);
  const chosen = options.filter((o) => value.includes(o.value)).map((o) => o.label);
  return (
    <div className="grid gap-1 text-sm">
      <button
        type="button"
        aria-expanded={open}
        className="flex min-h-7 items-center justify-between gap-2 text-left"
        onClick={() => setOpen(!open)}
      >
        <span className="font-medium">{label}</span>
        <span className="quiet truncate">{chosen.join(", ") || none}</span>
      </button>
      {open && (
        <div className="grid max-h-56 gap-0.5 overflow-y-auto rounded-box border border-base-300 p-2">
          {options.map((o) => (
            <Check
              key={o.value}
              label={o.label}
              value={value.includes(o.value)}
              onChange={(on) => onChange(on ? [...value, o.value] : value.filter((v) => v !== o.value))}
            />
          ))}
        </div>
      )}
    </div>
  );
}

interface PickedFieldProps {
  /** As its table calls it. */
  readonly field: string;
  readonly name: string;
  readonly onName: (name: string) => void;
  /** Null where it stands first, or last. */
  readonly onUp: (() => void) | null;
  readonly onDown: (() => void) | null;
  readonly onOut: () => void;
}

/** One of the fields that were picked: renamed, moved, or taken out. */
function PickedField({ field, name, onName, onUp, onDown, onOut }: PickedFieldProps) {
  const button = (label: string, icon: ReactNode, act: (() => void) | null) => (
    <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label={label} disabled={act === null} onClick={act ?? undefined}>
      {icon}
    </button>
  );
  return (
    <li className="flex items-center gap-1">
      <input
        type="text"
        aria-label={`Name of ${field}`}
        className="input input-sm min-w-0 grow"
        defaultValue={name}
        placeholder={field}
        maxLength={60}
        onBlur={(e) => {
          const typed = e.target.value.trim();
          if (typed !== name) onName(typed);
        }}
      />
      {button(`${field} up`, <ArrowUp size={13} aria-hidden />, onUp)}
      {button(`${field} down`, <ArrowDown size={13} aria-hidden />, onDown)}
      {button(`Leave ${field} out`, <X size={13} aria-hidden />, onOut)}
    </li>
  );
}
