"use client";
/** E-mail address and password, for portals and the back office alike. */
import type { FormState } from "./form";
import { useSafeForm } from "./safe-form";
import { useWords } from "./words";

type Action = (before: FormState, data: FormData) => Promise<FormState>;

export function SignInForm({ action, to }: { action: Action; to: string }) {
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
      <div>
        <label className="field-label" htmlFor="email">
          {words["door.email"]}
        </label>
        <input
          key={state.turn}
          id="email"
          name="email"
          type="email"
          autoComplete="username"
          className="input w-full"
          defaultValue={String(state.values.email ?? "")}
          aria-invalid={state.errors.email ? true : undefined}
          aria-describedby="email-error"
        />
        <p id="email-error" className="field-error">
          {state.errors.email}
        </p>
      </div>
      <div>
        <label className="field-label" htmlFor="password">
          {words["door.password"]}
        </label>
        <input
          id="password"
          name="password"
          type="password"
          autoComplete="current-password"
          className="input w-full"
          aria-invalid={state.errors.password ? true : undefined}
          aria-describedby="password-error"
        />
        <p id="password-error" className="field-error">
          {state.errors.password}
        </p>
      </div>
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {pending && <span className="loading loading-spinner loading-xs" aria-hidden />}
        {words["door.sign-in"]}
      </button>
    </form>
  );
}
