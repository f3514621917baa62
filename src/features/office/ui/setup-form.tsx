"use client";
import { useSafeForm } from "@/ui/safe-form";
import { setUp } from "../setup";

const FIELDS = [
  {
    name: "code",
    label: "Code",
    hint: "The server printed it when it started. Whoever can read that may begin.",
    type: "text",
    complete: "off",
  },
  { name: "name", label: "Your name", hint: null, type: "text", complete: "name" },
  { name: "email", label: "E-mail address", hint: "You sign in with it.", type: "email", complete: "username" },
  {
    name: "password",
    label: "Password",
    hint: "At least 15 characters. A few unrelated words are easy to keep and hard to guess; pasting is fine.",
    type: "password",
    complete: "new-password",
  },
] as const;

export function SetupForm() {
  const { state, pending, form } = useSafeForm(setUp);
  return (
    <form {...form} className="grid gap-4">
      {state.message && (
        <div role="alert" className="alert alert-error">
          {state.message}
        </div>
      )}
      {FIELDS.map((f) => (
        <div key={`${f.name} ${state.turn}`}>
          <label className="field-label" htmlFor={f.name}>
            {f.label}
          </label>
          <input
            id={f.name}
            name={f.name}
            type={f.type}
            autoComplete={f.complete}
            spellCheck={false}
            className="input w-full"
            defaultValue={String(state.values[f.name] ?? "")}
            aria-invalid={state.errors[f.name] ? true : undefined}
            aria-describedby={`${f.name}-hint ${f.name}-error`}
          />
          {f.hint && (
            <p id={`${f.name}-hint`} className="quiet mt-1 text-sm">
              {f.hint}
            </p>
          )}
          <p id={`${f.name}-error`} className="field-error">
            {state.errors[f.name]}
          </p>
        </div>
      ))}
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {pending && <span className="loading loading-spinner loading-xs" aria-hidden />}
        Make the account
      </button>
    </form>
  );
}
