/** "Who sees the unit cost of a sign?": the question an owner comes with, answered from the top of the page. */
import type { Schema } from "@/core/schema/types";
import { AutoSelect } from "@/ui/forms/auto-submit";

export function FieldChoice({ at, schema }: { at: string; schema: Schema }) {
  return (
    <form action={`${at}/access/fields`} className="flex items-center gap-2">
      <label htmlFor="who-sees" className="font-medium whitespace-nowrap">
        Who sees
      </label>
      <AutoSelect id="who-sees" name="field" defaultValue="" className="select select-sm w-44" required>
        <option value="" disabled>
          a field…
        </option>
        {schema.tables.map((t) => (
          // Several tables have a field called Name: each is said with its table, also once the list is closed.
          <optgroup key={t.id} label={t.name}>
            {t.fields.map((f) => (
              <option key={f.id} value={f.id}>
                {t.name}: {f.name}
              </option>
            ))}
          </optgroup>
        ))}
      </AutoSelect>
      <noscript>
        <button type="submit" className="btn btn-sm">
          Show
        </button>
      </noscript>
    </form>
  );
}
