"use client";
import { useState } from "react";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";

export function ProviderForm({ action }: { action: (before: FormState, data: FormData) => Promise<FormState> }) {
  const { state, pending, form } = useSafeForm(action);
  const [kind, setKind] = useState("oidc");
  return (
    <form {...form} className="grid max-w-xl gap-4">
      <Told state={state} />
      <fieldset className="flex flex-wrap gap-x-6 gap-y-2">
        <legend className="field-label">By</legend>
        {[
          ["oidc", "OpenID Connect"],
          ["saml", "SAML 2.0"],
        ].map(([id, label]) => (
          <label key={id} className="flex items-center gap-2">
            <input type="radio" name="kind" value={id} checked={kind === id} onChange={() => setKind(id!)} className="radio radio-sm" />
            {label}
          </label>
        ))}
      </fieldset>
      <TextBox name="name" label="Name, as the sign-in page says it" autoComplete="off" state={state} />
      <TextBox
        name="domains"
        label="Domains it speaks for"
        hint="With commas between. A domain below a listed one is another."
        autoComplete="off"
        state={state}
      />
      {kind === "oidc" ? (
        <>
          <TextBox name="issuer" label="Issuer" hint="Its address; what else is needed is asked there." autoComplete="off" state={state} />
          <TextBox name="client" label="Client id" autoComplete="off" state={state} />
          <TextBox
            name="secret"
            type="password"
            label="Client secret"
            hint="Where it gave one. It is kept sealed and never shown again."
            autoComplete="off"
            state={state}
          />
        </>
      ) : (
        <div>
          <label className="field-label" htmlFor="metadata">
            Its metadata
          </label>
          <textarea
            key={state.turn}
            id="metadata"
            name="metadata"
            rows={6}
            className="textarea w-full font-mono text-sm"
            defaultValue={String(state.values.metadata ?? "")}
            aria-describedby="metadata-error"
          />
          <p id="metadata-error" className="field-error">
            {state.errors.metadata}
          </p>
        </div>
      )}
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        Register it
      </button>
    </form>
  );
}
