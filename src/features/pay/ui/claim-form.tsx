"use client";
import { useSafeForm } from "@/ui/forms/safe-form";
import { claimOrder } from "../actions";

export function ClaimForm({ token, words }: { token: string; words: string }) {
  const { state, pending, form } = useSafeForm(claimOrder);
  return (
    <form {...form} className="grid gap-2">
      <input type="hidden" name="token" value={token} />
      {state.message && (
        <p role="alert" className="field-error">
          {state.message}
        </p>
      )}
      <p role="status">{state.done}</p>
      <div>
        <button type="submit" className="btn btn-primary" disabled={pending}>
          {words}
        </button>
      </div>
    </form>
  );
}
