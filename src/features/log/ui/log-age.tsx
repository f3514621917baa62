"use client";
import { useSafeForm } from "@/ui/forms/safe-form";
import { changeLogAge } from "../actions";

const AGES = [
  { months: "6", name: "6 months" },
  { months: "12", name: "1 year" },
  { months: "24", name: "2 years" },
  { months: "60", name: "5 years" },
  { months: "", name: "for good" },
];

/** How long the log is kept, and what that does. */
export function LogAge({ portal, months }: { portal: string; months: number | null }) {
  const { state, pending, form } = useSafeForm(changeLogAge.bind(null, portal));
  return (
    <form {...form} className="grid justify-items-start gap-2">
      <div className="flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2">
          Keep the log for
          <select name="months" className="select select-sm w-36" defaultValue={String(months ?? "")}>
            {AGES.map((a) => (
              <option key={a.months} value={a.months}>
                {a.name}
              </option>
            ))}
          </select>
        </label>
        <button type="submit" className="btn btn-sm" disabled={pending}>
          Save
        </button>
        <span role="status">{state.done}</span>
      </div>
      {(state.errors.months ?? state.message) && (
        <p role="alert" className="field-error">
          {state.errors.months ?? state.message}
        </p>
      )}
      <p className="quiet text-sm">
        Older entries move to a file that you can download here, a month at a time. Entries about money always stay.
      </p>
    </form>
  );
}
