"use client";
/** E-mail address and password, for portals and the back office alike. */
import type { FormState } from "./form";
import { useSafeForm } from "./safe-form";
import { TextBox } from "./text-box";
import { useWords } from "./words";

type Action = (before: FormState, data: FormData) => Promise<FormState>;

interface Props {
  action: Action;
  to: string;
  /** Whether it asks for a password; other ways are buttons below, for the same e-mail. */
  password?: boolean;
  others?: readonly { readonly id: string; readonly label: string }[];
}

export function SignInForm({ action, to, password = true, others = [] }: Props) {
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
      <TextBox name="email" type="email" label={words["door.email"]} autoComplete="username" state={state} />
      {password && (
        <>
          <TextBox name="password" type="password" label={words["door.password"]} autoComplete="current-password" state={state} />
          <button type="submit" className="btn btn-primary" disabled={pending}>
            {pending && <span className="loading loading-spinner loading-xs" aria-hidden />}
            {words["door.sign-in"]}
          </button>
        </>
      )}
      {others.map((o, i) => (
        <button
          key={o.id}
          type="submit"
          name="door"
          value={o.id}
          disabled={pending}
          className={!password && i === 0 ? "btn btn-primary" : "btn btn-soft"}
        >
          {o.label}
        </button>
      ))}
    </form>
  );
}
