"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { Line, Said } from "./form-parts";

interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  table: { name: string; singular: string; about: string; slug: string; label: string };
  labels: { id: string; name: string }[];
}

export function TableForm({ action, table, labels }: Props) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="sheet grid gap-4 p-6">
      <Said state={state} />
      <div className="grid gap-4 sm:grid-cols-2">
        <Line name="name" label="Name" state={state} value={table.name} />
        <Line name="singular" label="One of them" state={state} value={table.singular} />
        <Line name="slug" label="Address" state={state} value={table.slug} hint="The old one leads here, too." />
        <div>
          <label className="field-label" htmlFor="label">
            Each is called by
          </label>
          <select id="label" name="label" className="select w-full" defaultValue={table.label}>
            {labels.map((f) => (
              <option key={f.id} value={f.id}>
                {f.name}
              </option>
            ))}
          </select>
          <p className="field-error">{state.errors.label}</p>
        </div>
      </div>
      <Line name="about" label="What it is for" state={state} value={table.about} hint="For the agency's own people." />
      <div>
        <button type="submit" className="btn" disabled={pending}>
          Keep
        </button>
      </div>
    </form>
  );
}
