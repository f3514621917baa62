"use client";
/** Opening a link, choosing a password. */
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { NewPasswordBoxes } from "@/ui/signing-in/new-password";
import { useWords } from "@/ui/words";

type Action = (before: FormState, data: FormData) => Promise<FormState>;

function Message({ state }: { state: FormState }) {
  return state.message ? (
    <div role="alert" className="alert alert-error">
      {state.message}
    </div>
  ) : null;
}

interface OpenProps {
  action: Action;
  token: string;
  submit: string;
  /** It was asked for elsewhere: the code that stands there is asked for. */
  code?: boolean;
  /** A second way, beside the one that is meant first. */
  quiet?: boolean;
}

/** The button that uses a link, so that a program that merely looks at it does not. */
export function OpenLinkForm({ action, token, submit, code = false, quiet = false }: OpenProps) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="token" value={token} />
      <Message state={state} />
      {code && <TextBox name="code" label={words["code.code"]} inputMode="numeric" autoComplete="one-time-code" state={state} />}
      {state.done ? (
        <p role="status" className="alert">
          {state.done}
        </p>
      ) : (
        <button type="submit" className={quiet ? "btn btn-sm justify-self-start" : "btn btn-primary"} disabled={pending}>
          {submit}
        </button>
      )}
    </form>
  );
}

/** Asks for a link that signs in. */
export function AskLinkForm({ action, to }: { action: Action; to: string }) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="to" value={to} />
      {state.done ? (
        <p role="status" className="alert">
          {state.done}
        </p>
      ) : (
        <Message state={state} />
      )}
      <TextBox name="email" type="email" label={words["door.email"]} autoComplete="username" state={state} />
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {words["forgotten.send"]}
      </button>
    </form>
  );
}

interface NewPasswordProps {
  action: Action;
  to: string;
  skip: string | null;
  /** The one that is there is asked for, too. */
  present: boolean;
}

/** Where a new password is chosen, with the present one where that is asked for. */
export function NewPasswordForm({ action, to, skip, present }: NewPasswordProps) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="to" value={to} />
      <Message state={state} />
      <NewPasswordBoxes state={state} present={present} />
      <div className="flex items-center gap-4">
        <button type="submit" className="btn btn-primary" disabled={pending}>
          {words["password.keep"]}
        </button>
        {skip !== null && (
          <a className="link-plain" href={skip}>
            {words["password.later"]}
          </a>
        )}
      </div>
    </form>
  );
}
