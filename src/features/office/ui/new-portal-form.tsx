"use client";
import { useSafeForm } from "@/ui/safe-form";
import { makePortal } from "../actions";

export function NewPortalForm() {
  const { state, pending, form } = useSafeForm(makePortal);
  return (
    <form {...form} className="flex flex-wrap items-start gap-4">
      {state.message && (
        <p role="alert" className="alert alert-error w-full">
          {state.message}
        </p>
      )}
      {(["name", "slug"] as const).map((f) => (
        <div key={`${f} ${state.turn}`} className="w-full sm:w-52">
          <label className="field-label" htmlFor={f}>
            {f === "name" ? "Name that clients see" : "Address, in small letters"}
          </label>
          <input
            id={f}
            name={f}
            className="input w-full"
            defaultValue={String(state.values[f] ?? "")}
            aria-invalid={state.errors[f] ? true : undefined}
            aria-describedby={`${f}-error`}
          />
          <p id={`${f}-error`} className="field-error">
            {state.errors[f]}
          </p>
        </div>
      ))}
      <button type="submit" className="btn btn-primary sm:mt-6.5" disabled={pending}>
        Make the portal
      </button>
    </form>
  );
}
