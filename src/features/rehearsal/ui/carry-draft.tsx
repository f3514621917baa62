"use client";
import { useSafeForm } from "@/ui/forms/safe-form";
import { carryDraft } from "../actions";

export function CarryDraft({ portal }: { portal: string }) {
  const { state, pending, form } = useSafeForm(carryDraft.bind(null, portal));
  return (
    <form {...form} className="flex flex-wrap items-center gap-3">
      <button type="submit" className="btn btn-sm" disabled={pending}>
        Carry its draft over
      </button>
      {state.message && (
        <span role="alert" className="field-error">
          {state.message}
        </span>
      )}
      <span role="status">{state.done}</span>
    </form>
  );
}
