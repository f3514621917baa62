"use client";
/** Cancelling, and taking that back: said what it means before it is pressed. */
import { useSafeForm } from "@/ui/forms/safe-form";
import { changeLife } from "../actions";

export function LifeForm({ what, words }: { what: "cancelled" | "kept"; words: { press: string; lead: string } }) {
  const { state, pending, form } = useSafeForm(changeLife.bind(null, what));
  const press = (
    <form {...form} className="grid gap-2">
      <p className="quiet max-w-prose text-sm">{words.lead}</p>
      {state.message && (
        <p role="alert" className="field-error">
          {state.message}
        </p>
      )}
      <div>
        <button type="submit" className={what === "kept" ? "btn btn-primary btn-sm" : "btn btn-sm"} disabled={pending}>
          {words.press}
        </button>
      </div>
    </form>
  );
  if (what === "kept") return <div className="w-full">{press}</div>;
  return (
    <details className="w-full">
      <summary className="link-plain w-fit cursor-pointer text-sm">{words.press}</summary>
      <div className="mt-2">{press}</div>
    </details>
  );
}
