"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { NewPasswordBoxes } from "@/ui/signing-in/new-password";
import { Told } from "@/ui/told";
import { useWords } from "@/ui/words";

type Action = (before: FormState, data: FormData) => Promise<FormState>;

export function OwnPassword({ action }: { action: Action }) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid max-w-md gap-4">
      <Told state={state} />
      <NewPasswordBoxes state={state} present />
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        {words["password.keep"]}
      </button>
    </form>
  );
}

/** The first one, of somebody who was asked in. */
export function FirstPassword({ action, token }: { action: Action; token: string }) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="token" value={token} />
      <Told state={state} />
      <NewPasswordBoxes state={state} />
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {words["code.go-in"]}
      </button>
    </form>
  );
}
