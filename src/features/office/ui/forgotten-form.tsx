"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";

/** Asks for a link to a new password. */
export function ForgottenForm({ action }: { action: (before: FormState, data: FormData) => Promise<FormState> }) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid gap-4">
      <Told state={state} />
      <TextBox name="email" type="email" label="E-mail address" autoComplete="username" state={state} />
      <button type="submit" className="btn btn-primary" disabled={pending}>
        Send me a link
      </button>
      <a className="link-plain text-sm" href="/sign-in">
        Back to signing in
      </a>
    </form>
  );
}
