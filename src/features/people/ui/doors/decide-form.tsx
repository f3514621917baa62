"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { Told } from "@/ui/told";

interface Named {
  readonly id: string;
  readonly name: string;
}
interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  id: string;
  name: string;
  /** Whether a company is given with a yes. */
  company: boolean;
  /** Whether a word goes to them. */
  note: boolean;
  companies: readonly Named[];
  roles: readonly Named[];
  member: string | null;
  /** The company that they named, where there is one of that name. */
  said: string | null;
}

export function DecideForm({ action, id, name, company, note, companies, roles, member, said }: Props) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid gap-3">
      {company && (
        <div className="grid gap-3 sm:grid-cols-2">
          <div>
            <label className="field-label" htmlFor={`company-${id}`}>
              Company
            </label>
            <select id={`company-${id}`} name="company" className="select w-full" defaultValue={said ?? ""}>
              <option value="">Leave as it is</option>
              {companies.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.name}
                </option>
              ))}
            </select>
          </div>
          <fieldset className="grid content-start gap-1">
            <legend className="field-label">Roles there</legend>
            {roles.map((r) => (
              <label key={r.id} className="flex items-center gap-2">
                <input type="checkbox" name="roles" value={r.id} defaultChecked={r.id === member} className="checkbox checkbox-sm" />
                {r.name}
              </label>
            ))}
          </fieldset>
        </div>
      )}
      {note && (
        <div>
          <label className="field-label" htmlFor={`note-${id}`}>
            A word to them
          </label>
          <textarea id={`note-${id}`} name="note" rows={2} className="textarea w-full" />
        </div>
      )}
      <Told state={state} />
      <div className="flex gap-3">
        <button type="submit" name="act" value="yes" className="btn btn-primary btn-sm" aria-label={`Approve ${name}`} disabled={pending}>
          Approve
        </button>
        <button type="submit" name="act" value="no" className="btn btn-ghost btn-sm" aria-label={`Decline ${name}`} disabled={pending}>
          Decline
        </button>
      </div>
    </form>
  );
}
