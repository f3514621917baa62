"use client";
/** Another address: asked for, and then confirmed by the codes that came to both. */
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";
import { useWords } from "@/ui/words";

export function EmailForms({ action, underWay }: { action: (before: FormState, data: FormData) => Promise<FormState>; underWay: boolean }) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid max-w-md gap-3">
      <Told state={state} />
      <TextBox name="email" type="email" label={words["email.new"]} autoComplete="off" state={state} />
      <button type="submit" name="act" value="begin" className="btn btn-sm justify-self-start" disabled={pending}>
        {words["email.begin"]}
      </button>
      {underWay && (
        <>
          <TextBox name="new" label={words["email.new-code"]} autoComplete="one-time-code" inputMode="numeric" state={state} />
          <TextBox name="old" label={words["email.old-code"]} autoComplete="off" inputMode="numeric" state={state} />
          <button type="submit" name="act" value="finish" className="btn btn-sm btn-primary justify-self-start" disabled={pending}>
            {words["email.finish"]}
          </button>
        </>
      )}
    </form>
  );
}
