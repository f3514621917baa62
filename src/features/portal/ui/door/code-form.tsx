"use client";
/** A code that came by mail or SMS. */
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";
import { useWords } from "@/ui/words";

type Action = (before: FormState, data: FormData) => Promise<FormState>;

/** Where a code of six digits is typed in. */
export function CodeForm({ action, by, to }: { action: Action; by: string; to: string }) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="by" value={by} />
      <input type="hidden" name="to" value={to} />
      <Told state={state} />
      <TextBox name="code" label={words["code.code"]} autoComplete="one-time-code" inputMode="numeric" state={state} />
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {words["code.go-in"]}
      </button>
    </form>
  );
}
