"use client";
/** Somebody without an account: signs in, joins, or goes on with an e-mail address alone. */
import { useSafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { asGuest } from "../actions";

interface Props {
  hidden: Readonly<Record<string, string>>;
  signIn: string;
  join: string | null;
  words: Readonly<Record<"title" | "lead" | "signIn" | "join" | "guest" | "email", string>>;
}

export function GuestChoice({ hidden, signIn, join, words }: Props) {
  const { state, pending, form } = useSafeForm(asGuest);
  return (
    <div className="mx-auto grid max-w-xl gap-5">
      <div>
        <h1>{words.title}</h1>
        <p className="quiet mt-1">{words.lead}</p>
      </div>
      <div className="flex flex-wrap gap-3">
        <Link className="btn btn-primary" href={signIn}>
          {words.signIn}
        </Link>
        {join && (
          <Link className="btn" href={join}>
            {words.join}
          </Link>
        )}
      </div>
      <form {...form} className="sheet grid gap-3 p-5">
        {Object.entries(hidden).map(([name, v]) => (
          <input key={name} type="hidden" name={name} value={v} />
        ))}
        {state.message && (
          <p role="alert" className="alert alert-error">
            {state.message}
          </p>
        )}
        <label className="field-label" htmlFor="guest">
          {words.email}
        </label>
        <input
          key={state.turn}
          id="guest"
          name="guest"
          type="email"
          autoComplete="email"
          className="input w-full"
          defaultValue={String(state.values.guest ?? "")}
        />
        {state.errors.guest && <p className="field-error">{state.errors.guest}</p>}
        <div>
          <button type="submit" className="btn" disabled={pending}>
            {words.guest}
          </button>
        </div>
      </form>
    </div>
  );
}
