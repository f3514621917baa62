"use client";
/** Who is billed, and the button that goes on to where it is paid. One filling-in is one purchase, however often it is pressed. */
import { useId } from "react";
import type { Buyer } from "@/core/billing/buyer";
import { useSafeForm } from "@/ui/forms/safe-form";
import { confirmPurchase } from "../actions";

interface Props {
  hidden: Readonly<Record<string, string>>;
  buyer: Buyer;
  /** A guest's e-mail was asked for before. */
  fixedEmail: boolean;
  /** One alone where the tax depends on it: it was said before, and the sums are of it. */
  countries: readonly { readonly code: string; readonly name: string }[];
  countryHint: string;
  /** What is kept to pay with; null where nothing is. */
  kept: string | null;
  submit: string;
  words: Readonly<
    Record<"billed" | "name" | "email" | "address" | "country" | "none" | "taxNumber" | "reference" | "kept" | "other", string>
  >;
}

export function BuyForm({ hidden, buyer, fixedEmail, countries, countryHint, kept, submit, words }: Props) {
  const { state, pending, form } = useSafeForm(confirmPurchase);
  const id = useId();
  const value = (name: keyof Buyer): string => String(state.values[name] ?? buyer[name]);
  const field = (name: keyof Buyer, label: string, more: React.InputHTMLAttributes<HTMLInputElement> = {}) => (
    <div className="grid gap-1">
      <label className="field-label" htmlFor={`${id}-${name}`}>
        {label}
      </label>
      <input
        key={`${name} ${state.turn}`}
        id={`${id}-${name}`}
        name={name}
        className="input w-full"
        defaultValue={value(name)}
        aria-invalid={state.errors[name] !== undefined}
        aria-describedby={state.errors[name] ? `${id}-${name}-error` : undefined}
        {...more}
      />
      {state.errors[name] && (
        <p id={`${id}-${name}-error`} className="field-error">
          {state.errors[name]}
        </p>
      )}
    </div>
  );
  return (
    <form {...form} className="sheet grid gap-4 p-5">
      {Object.entries(hidden).map(([name, v]) => (
        <input key={name} type="hidden" name={name} value={v} />
      ))}
      <h2>{words.billed}</h2>
      {state.message && (
        <div role="alert" className="alert alert-error">
          {state.message}
        </div>
      )}
      <div className="grid gap-4 sm:grid-cols-2">
        {field("name", words.name, { autoComplete: "organization" })}
        {field("email", words.email, { type: "email", autoComplete: "email", readOnly: fixedEmail })}
        {field("address", words.address, { autoComplete: "street-address" })}
        <div className="grid gap-1">
          <label className="field-label" htmlFor={`${id}-country`}>
            {words.country}
          </label>
          <select key={state.turn} id={`${id}-country`} name="country" className="select w-full" defaultValue={value("country")}>
            {countries.length > 1 && <option value="">{words.none}</option>}
            {countries.map((c) => (
              <option key={c.code} value={c.code}>
                {c.name}
              </option>
            ))}
          </select>
          {countryHint && <p className="quiet text-sm">{countryHint}</p>}
          {state.errors.country && <p className="field-error">{state.errors.country}</p>}
        </div>
        {field("taxNumber", words.taxNumber)}
        {field("reference", words.reference)}
      </div>
      {kept && (
        <div className="grid gap-1">
          <p>{words.kept}</p>
          <label className="flex items-center gap-2">
            <input type="checkbox" name="other" className="checkbox checkbox-sm" /> {words.other}
          </label>
        </div>
      )}
      <div>
        <button type="submit" className="btn btn-primary" disabled={pending}>
          {submit}
        </button>
      </div>
    </form>
  );
}
