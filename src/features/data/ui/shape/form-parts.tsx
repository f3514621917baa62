"use client";
/** Boxes of the shaping forms, each with what is wrong beside it. */
import type { ReactNode } from "react";
import type { FormState } from "@/ui/forms/form";

interface BoxProps {
  name: string;
  label: string;
  state: FormState;
  value: string;
  hint?: string;
  className?: string;
}

const shown = (state: FormState, name: string, value: string): string => {
  const typed = state.values[name];
  return typeof typed === "string" ? typed : value;
};

export function Line({ name, label, state, value, hint, className }: BoxProps) {
  const error = state.errors[name];
  return (
    <div className={className}>
      <label className="field-label" htmlFor={name}>
        {label}
      </label>
      <input
        key={state.turn}
        id={name}
        name={name}
        className="input w-full"
        defaultValue={shown(state, name, value)}
        aria-invalid={error ? true : undefined}
        aria-describedby={`${name}-more`}
      />
      <p id={`${name}-more`} className={error ? "field-error" : "quiet mt-1 text-sm"}>
        {error ?? hint}
      </p>
    </div>
  );
}

export function Tick({ name, on, children }: { name: string; on: boolean; children: ReactNode }) {
  return (
    <label className="flex items-start gap-2">
      <input type="checkbox" name={name} className="checkbox checkbox-sm mt-0.5" defaultChecked={on} />
      <span>{children}</span>
    </label>
  );
}

export function Said({ state }: { state: FormState }) {
  if (!state.message && !state.done) return null;
  return (
    <p role={state.message ? "alert" : "status"} className={`alert ${state.message ? "alert-error" : "alert-success alert-soft"}`}>
      {state.message ?? state.done}
    </p>
  );
}
