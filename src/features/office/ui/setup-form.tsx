"use client";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { setUp } from "../setup";

const FIELDS = [
  {
    name: "code",
    label: "Code",
    hint: "The server printed it when it started. Whoever can read that may begin.",
    type: "text",
    autoComplete: "off",
  },
  { name: "name", label: "Your name", hint: null, type: "text", autoComplete: "name" },
  { name: "email", label: "E-mail address", hint: "You sign in with it.", type: "email", autoComplete: "username" },
  {
    name: "password",
    label: "Password",
    hint: "At least 15 characters. A few unrelated words are easy to keep and hard to guess; pasting is fine.",
    type: "password",
    autoComplete: "new-password",
  },
] as const;

/** Makes the first owner of an installation. */
export function SetupForm() {
  const { state, pending, form } = useSafeForm(setUp);
  return (
    <form {...form} className="grid gap-4">
      {state.message && (
        <div role="alert" className="alert alert-error">
          {state.message}
        </div>
      )}
      {FIELDS.map((f) => (
        <TextBox key={f.name} {...f} state={state} />
      ))}
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {pending && <span className="loading loading-spinner loading-xs" aria-hidden />}
        Make the account
      </button>
    </form>
  );
}
