"use client";
/** Codes of an authenticator: asked for after a door, and to turn it off. */
import type { FormState } from "../forms/form";
import { useSafeForm } from "../forms/safe-form";
import { TextBox } from "../forms/text-box";
import { Told } from "../told";
import { useWords } from "../words";

type Action = (before: FormState, data: FormData) => Promise<FormState>;

/** Asks for the code of the second factor, or for a recovery code. */
export function SecondForm({ action, to }: { action: Action; to: string }) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="to" value={to} />
      <Told state={state} />
      <TextBox name="code" label={words["second.code"]} autoComplete="one-time-code" state={state} />
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {words["second.go-on"]}
      </button>
    </form>
  );
}

/** Takes the second factor away, after its code. */
export function EndSecondForm({ action, submit }: { action: Action; submit: string }) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid max-w-sm gap-3">
      <Told state={state} />
      <TextBox name="code" label={words["second.end-code"]} autoComplete="one-time-code" state={state} />
      <button type="submit" className="btn btn-sm justify-self-start" disabled={pending}>
        {submit}
      </button>
    </form>
  );
}
