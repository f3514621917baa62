"use client";
/** E-mail address and password, for portals and the back office alike. */
import type { ReactNode } from "react";
import type { FormState } from "../forms/form";
import { useSafeForm } from "../forms/safe-form";
import { TextBox } from "../forms/text-box";
import { useWords } from "../words";

type Action = (before: FormState, data: FormData) => Promise<FormState>;

interface Props {
  action: Action;
  to: string;
  /** Whether it asks for a password; other ways are buttons below, for the same e-mail. */
  password?: boolean;
  others?: readonly { readonly id: string; readonly label: string }[];
  /** A name to sign in by does as well as an address. */
  names?: boolean;
  /** Ways that need no address. */
  children?: ReactNode;
}

/** Asks for e-mail and password, with the other ways in below. */
export function SignInForm({ action, to, password = true, others = [], names = false, children }: Props) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="to" value={to} />
      {state.message && (
        <div role="alert" className="alert alert-error">
          {state.message}
        </div>
      )}
      <TextBox
        name="email"
        type={names ? "text" : "email"}
        label={words[names ? "door.email-or-name" : "door.email"]}
        autoComplete="username"
        state={state}
      />
      {password && (
        <>
          <TextBox name="password" type="password" label={words["door.password"]} autoComplete="current-password" state={state} />
          <button type="submit" className="btn btn-primary" disabled={pending}>
            {pending && <span className="loading loading-spinner loading-xs" aria-hidden />}
            {words["door.sign-in"]}
          </button>
        </>
      )}
      {(others.length > 0 || children) && (
        <fieldset className="grid gap-2">
          <legend className="quiet mb-2 flex w-full items-center gap-3 text-sm before:h-px before:grow before:bg-base-300 after:h-px after:grow after:bg-base-300">
            {words[password ? "door.or" : "door.by"]}
          </legend>
          <div className="grid grid-cols-2 gap-2 [&>*]:min-w-0">
            {others.map((o) => (
              <button
                key={o.id}
                type="submit"
                name="door"
                value={o.id}
                disabled={pending}
                className="btn btn-soft btn-sm h-auto min-h-9 py-1"
              >
                {o.label}
              </button>
            ))}
            {children}
          </div>
        </fieldset>
      )}
    </form>
  );
}
