"use client";
/** The sign-up form: who somebody is, how they join, and the terms they agree to. */
import type { FormField } from "@/core/forms/form-field";
import type { FormState } from "@/ui/forms/form";
import { Field } from "@/ui/forms/record-form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";
import { useWords } from "@/ui/words";

interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  /** Where they were going. */
  to: string;
  kinds: readonly { readonly id: string; readonly label: string }[];
  fields: FormField[];
  company: boolean;
  terms: string;
  version: number;
  wrote: boolean;
}

/** What somebody who joins fills in, with the terms as they stand. */
export function JoinForm({ action, to, kinds, fields, company, terms, version, wrote }: Props) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  const typed = (id: string): readonly string[] => [state.values[id] ?? []].flat();
  if (state.done)
    return (
      <p role="status" className="alert">
        {state.done}
      </p>
    );
  return (
    <form {...form} className="grid gap-4">
      <Told state={state} />
      <input type="hidden" name="to" value={to} />
      <input type="hidden" name="version" value={version} />
      {kinds.length > 1 && (
        <fieldset key={`kind ${state.turn}`} className="grid gap-1">
          <legend className="field-label">{words["join.as"]}</legend>
          {kinds.map((k, i) => (
            <label key={k.id} className="flex items-center gap-2">
              <input
                type="radio"
                name="kind"
                value={k.id}
                className="radio radio-sm"
                defaultChecked={typed("kind").length > 0 ? typed("kind")[0] === k.id : i === 0}
              />
              {k.label}
            </label>
          ))}
        </fieldset>
      )}
      {kinds.length === 1 && <input type="hidden" name="kind" value={kinds[0]!.id} />}
      <TextBox name="name" label={words["join.name"]} autoComplete="name" state={state} />
      <TextBox name="email" type="email" label={words["door.email"]} autoComplete="email" state={state} />
      {company && (
        <TextBox
          name="company"
          label={words["join.company-name"]}
          autoComplete="organization"
          hint={kinds.some((k) => k.id === "alone") ? words["join.company-hint"] : null}
          state={state}
        />
      )}
      {fields.map((f) => (
        <Field key={`${f.id} ${state.turn}`} field={f} error={state.errors[f.id]} value={typed(f.id)} />
      ))}
      {wrote && (
        <div>
          <label className="field-label" htmlFor="wrote">
            {words["join.wrote"]} <span className="quiet font-normal">{words["form.optional"]}</span>
          </label>
          <textarea key={state.turn} id="wrote" name="wrote" rows={3} className="textarea w-full" defaultValue={typed("wrote")[0]} />
        </div>
      )}
      {terms && (
        <div className="grid gap-2">
          <details>
            <summary className="link-plain cursor-pointer">{words["join.terms"]}</summary>
            <p className="mt-2 max-h-60 overflow-y-auto text-sm whitespace-pre-line">{terms}</p>
          </details>
          <label className="flex items-start gap-2">
            <input type="checkbox" name="terms" className="checkbox checkbox-sm mt-1" aria-describedby="terms-error" />
            {words["join.agree"]}
          </label>
          <p id="terms-error" className="field-error">
            {state.errors.terms}
          </p>
        </div>
      )}
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {words["join.send"]}
      </button>
    </form>
  );
}
