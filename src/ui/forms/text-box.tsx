"use client";
/** One line to write in, with its label, its hint, and what is wrong with it right beside it. */
import { useState } from "react";
import { useWords } from "../words";
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

/** A line to type in with its label, hint and problem. */
export function TextBox({ name, label, state, type = "text", autoComplete, hint, inputMode, className }: Props) {
  const error = state.errors[name];
  const words = useWords();
  const [seen, setSeen] = useState(false);
  const secret = type === "password";
  return (
    <div className={className}>
      <label className="field-label" htmlFor={name}>
        {label}
      </label>
      <div className="relative">
        <input
          // Made anew with what the server gives back; it never gives a password back, so the box keeps its own until it is done.
          key={secret ? `${name} ${state.successes}` : state.turn}
          id={name}
          name={name}
          type={secret && seen ? "text" : type}
          autoComplete={autoComplete}
          inputMode={inputMode}
          className={secret ? "input w-full pr-16" : "input w-full"}
          {...(secret ? { spellCheck: false, autoCapitalize: "off" } : {})}
          defaultValue={secret ? undefined : String(state.values[name] ?? "")}
          aria-invalid={error ? true : undefined}
          aria-describedby={hint ? `${name}-hint ${name}-error` : `${name}-error`}
        />
        {secret && (
          <button
            type="button"
            className="link-plain absolute inset-y-0 right-3 z-10 my-auto h-8 min-w-8 cursor-pointer text-sm"
            aria-pressed={seen}
            aria-label={`${words["password.show"]}: ${label}`}
            onClick={() => setSeen(!seen)}
          >
            {words[seen ? "password.hide" : "password.show"]}
          </button>
        )}
      </div>
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
