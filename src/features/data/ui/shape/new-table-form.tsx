"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { Line, Said } from "./form-parts";

interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  tables: { id: string; name: string }[];
}

export function NewTableForm({ action, tables }: Props) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="sheet grid gap-4 p-6">
      <Said state={state} />
      <Line name="name" label="What it holds" state={state} value="" hint="In the plural, as clients would say: Orchards" />
      <Line name="singular" label="One of them" state={state} value="" hint="Orchard" />
      <div>
        <label className="field-label" htmlFor="like">
          Shaped like
        </label>
        <select id="like" name="like" className="select w-full" defaultValue="">
          <option value="">nothing yet: a name alone</option>
          {tables.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}, without its records
            </option>
          ))}
        </select>
      </div>
      <div>
        <button type="submit" className="btn btn-primary" disabled={pending}>
          Make the table
        </button>
      </div>
    </form>
  );
}
