"use client";
/** One line to write in, with its label, its hint, and what is wrong with it right beside it. */
import type { FormState } from "./form";

interface Props {
  name: string;
  label: string;
  state: FormState;
  type?: "text" | "email" | "password";
  autoComplete?: string;
  hint?: string | null;
  inputMode?: "numeric";
  className?: string;
}

export function TextBox({ name, label, state, type = "text", autoComplete, hint, inputMode, className }: Props) {
  const error = state.errors[name];
  return (
    <div className={className}>
      <label className="field-label" htmlFor={name}>
        {label}
      </label>
      <input
        // Made anew with what the server gives back; it never gives a password back, so the box keeps its own.
        key={type === "password" ? name : state.turn}
        id={name}
        name={name}
        type={type}
        autoComplete={autoComplete}
        inputMode={inputMode}
        className="input w-full"
        defaultValue={type === "password" ? undefined : String(state.values[name] ?? "")}
        aria-invalid={error ? true : undefined}
        aria-describedby={hint ? `${name}-hint ${name}-error` : `${name}-error`}
      />
      {hint && (
        <p id={`${name}-hint`} className="quiet mt-1 text-sm">
          {hint}
        </p>
      )}
      <p id={`${name}-error`} className="field-error">
        {error}
      </p>
    </div>
  );
}
