"use client";
/** Opening a link, choosing a password. */
import type { FormState } from "@/ui/form";
import { useSafeForm } from "@/ui/safe-form";

type Action = (before: FormState, data: FormData) => Promise<FormState>;

function Message({ state }: { state: FormState }) {
  return state.message ? (
    <div role="alert" className="alert alert-error">
      {state.message}
    </div>
  ) : null;
}

export function OpenLinkForm({ action, token, name }: { action: Action; token: string; name: string }) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="token" value={token} />
      <Message state={state} />
      <button type="submit" className="btn btn-primary" disabled={pending}>
        Go in as {name}
      </button>
    </form>
  );
}

export function NewPasswordForm({ action, to, skip }: { action: Action; to: string; skip: string | null }) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="to" value={to} />
      <Message state={state} />
      <div>
        <label className="field-label" htmlFor="password">
          New password
        </label>
        <input
          id="password"
          name="password"
          type="password"
          autoComplete="new-password"
          className="input w-full"
          aria-invalid={state.errors.password ? true : undefined}
          aria-describedby="password-hint password-error"
        />
        <p id="password-hint" className="quiet mt-1 text-sm">
          At least 15 characters. A few unrelated words are easy to keep and hard to guess; pasting is fine.
        </p>
        <p id="password-error" className="field-error">
          {state.errors.password}
        </p>
      </div>
      <div className="flex items-center gap-4">
        <button type="submit" className="btn btn-primary" disabled={pending}>
          Keep this password
        </button>
        {skip !== null && (
          <a className="link-plain" href={skip}>
            Later
          </a>
        )}
      </div>
    </form>
  );
}
