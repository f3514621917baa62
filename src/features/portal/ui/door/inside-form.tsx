"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";

interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  label: string;
  yes: string;
}

/** Asks for one number, and says what became of it. */
export function InsideForm({ action, label, yes }: Props) {
  const { state, pending, form } = useSafeForm(action);
  if (state.done) return <Told state={state} />;
  return (
    <form {...form} className="grid gap-4">
      <Told state={state} />
      <TextBox name="number" label={label} state={state} inputMode="numeric" autoComplete="off" />
      <div>
        <button type="submit" className="btn btn-primary" disabled={pending}>
          {yes}
        </button>
      </div>
    </form>
  );
}
