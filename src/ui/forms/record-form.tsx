"use client";
/** A form for one record, in the portal and in the back office alike. The server decides; this only asks. */
import { useEffect, useRef } from "react";
import type { FormField } from "@/core/forms/form-field";
import { holdsPictures } from "@/core/schema/fields/natures";
import { FileBox } from "../files/file-box";
import { WithUploads } from "../files/uploads";
import { useWords } from "../words";
import { LOOKS } from "./fields";
import type { FormState } from "./form";
import { type FindRecords, PickerInForm, WithRecords } from "./record-picker";
import { useSafeForm } from "./safe-form";

interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  fields: FormField[];
  /** What the record looked like when the form was opened. */
  seen?: string;
  hidden?: Record<string, string>;
  submit: string;
  cancelHref: string;
  /** Why it cannot be sent, if so. */
  closed?: string;
  /** Where files are sent to. */
  uploads: string;
  /** Where relations find the records to choose from. */
  find: FindRecords;
}

/** Takes out of a form for changing what stands as it was found: nobody who changes one field writes another. */
export const untouchedOut =
  (fields: readonly FormField[]) =>
  (data: FormData): void => {
    for (const f of fields) {
      const [now, was] = [data.getAll(f.id).filter((v) => v !== ""), f.value.filter((v) => v !== "")];
      if (now.length === was.length && now.every((v, i) => v === was[i])) data.delete(f.id);
    }
  };

/** Fields of a record to be filled in, each with its own control and its problem below. */
export function RecordForm({ action, fields, seen, hidden, submit, cancelHref, closed, uploads, find }: Props) {
  const { state, pending, form, files } = useSafeForm(action, seen ? untouchedOut(fields) : undefined);
  const words = useWords();
  return (
    <form {...form} className="grid gap-5">
      {Object.entries({ ...hidden, ...(seen ? { $seen: seen } : {}) }).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      {state.message && (
        <div role="alert" className="alert alert-error">
          {state.message}
        </div>
      )}
      <WithRecords value={find}>
        <WithUploads {...files}>
          {fields.map((f) =>
            LOOKS[f.type].edit === "files" ? (
              <FileField key={f.id} field={f} error={state.errors[f.id]} uploads={uploads} closed={closed !== undefined} />
            ) : (
              <Field key={turnOf(f, state)} field={f} error={state.errors[f.id]} value={typedIn(state.values[f.id]) ?? f.value} />
            ),
          )}
        </WithUploads>
      </WithRecords>
      {closed && (
        <p id="closed" className="alert alert-warning alert-soft">
          {closed}
        </p>
      )}
      <div className="flex items-center gap-3">
        <button
          type="submit"
          className="btn btn-primary"
          disabled={pending || closed !== undefined}
          aria-describedby={closed ? "closed" : undefined}
        >
          {pending && <span className="loading loading-spinner loading-xs" aria-hidden />}
          {submit}
        </button>
        <a className="link-plain" href={cancelHref}>
          {words["form.cancel"]}
        </a>
      </div>
    </form>
  );
}

/** A field of files within a form. */
export function FileField({
  field: f,
  error,
  uploads,
  closed,
}: {
  field: FormField;
  error: string | undefined;
  uploads: string;
  closed: boolean;
}) {
  const words = useWords();
  return (
    <div>
      <label className="field-label" htmlFor={`${f.id}-choose`}>
        {f.name}
        {!f.required && <span className="quiet font-normal"> {words["form.optional"]}</span>}
      </label>
      <FileBox field={f.id} pictures={holdsPictures(f)} held={f.choices ?? []} uploads={uploads} disabled={closed} />
      {f.hint && <p className="quiet mt-1 text-sm">{f.hint}</p>}
      {error && <p className="field-error">{error}</p>}
    </div>
  );
}

/** What is typed is made anew with each answer, from what it gives back; a picker keeps what was picked by itself. */
export const turnOf = (f: FormField, state: FormState): string => (f.chosen ? f.id : `${f.id} ${state.turn}`);

const typedIn = (v: string | string[] | undefined): readonly string[] | undefined => (typeof v === "string" ? [v] : v);

interface FieldProps {
  field: FormField;
  error: string | undefined;
  value: readonly string[];
  placeholder?: string | undefined;
  /** It takes the keyboard as soon as it is there: for what somebody just asked for. */
  focused?: boolean;
}

/** One field of a form with its label, hint and problem. */
export function Field({ field: f, error, value, placeholder, focused = false }: FieldProps) {
  const words = useWords();
  const look = LOOKS[f.type];
  const describedBy = [f.hint && `${f.id}-hint`, error && `${f.id}-error`].filter(Boolean).join(" ") || undefined;
  const own = useRef<HTMLElement>(null);
  useEffect(() => {
    if (focused) own.current?.focus();
  }, [focused]);
  const ref = (el: HTMLElement | null): void => void (own.current = el);
  const common = {
    ref,
    id: f.id,
    name: f.id,
    "aria-invalid": error ? true : undefined,
    "aria-describedby": describedBy,
    required: f.required,
  };
  return (
    <div>
      <label className="field-label" htmlFor={f.id}>
        {f.name}
        {!f.required && <span className="quiet font-normal"> {words["form.optional"]}</span>}
      </label>
      {f.chosen ? (
        <PickerInForm
          id={f.id}
          ref={ref}
          many={f.many}
          required={f.required}
          chosen={f.chosen}
          withheld={f.withheld}
          invalid={error !== undefined}
          describedBy={describedBy}
        />
      ) : f.choices ? (
        <select {...common} className="select w-full" multiple={f.many} defaultValue={f.many ? [...value] : (value[0] ?? "")}>
          {!f.many && <option value="">{words[f.choices.length > 0 ? "form.choose" : "form.no-choice"]}</option>}
          {f.choices.map((c) => (
            <option key={c.value} value={c.value}>
              {c.label}
            </option>
          ))}
        </select>
      ) : look.edit === "area" ? (
        <textarea {...common} className="textarea w-full" rows={4} placeholder={placeholder} defaultValue={value[0] ?? ""} />
      ) : (
        <input
          {...common}
          className="input w-full"
          placeholder={placeholder}
          type={look.input ?? "text"}
          inputMode={look.keys}
          defaultValue={value[0] ?? ""}
        />
      )}
      {f.hint && (
        <p id={`${f.id}-hint`} className="quiet mt-1 text-sm">
          {f.hint}
        </p>
      )}
      {error && (
        <p id={`${f.id}-error`} className="field-error">
          {error}
        </p>
      )}
    </div>
  );
}
