"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";
import { useWords } from "@/ui/words";

type Action = (before: FormState, data: FormData) => Promise<FormState>;
interface Role {
  readonly id: string;
  readonly name: string;
}

export function InviteColleague({ action, give }: { action: Action; give: readonly Role[] }) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <Told state={state} />
      <div className="grid gap-4 sm:grid-cols-2">
        <TextBox name="name" label={words["company.name"]} autoComplete="off" state={state} />
        <TextBox name="email" type="email" label={words["door.email"]} autoComplete="off" state={state} />
      </div>
      <div>
        <label className="field-label" htmlFor="role">
          {words["company.role"]}
        </label>
        <select
          id="role"
          name="role"
          className="select w-full max-w-xs"
          key={state.turn}
          defaultValue={String(state.values.role ?? give[0]?.id ?? "")}
        >
          {give.map((r) => (
            <option key={r.id} value={r.id}>
              {r.name}
            </option>
          ))}
        </select>
        <p className="field-error">{state.errors.role}</p>
      </div>
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        {words["company.send"]}
      </button>
    </form>
  );
}

interface ColleagueProps {
  action: Action;
  give: readonly Role[];
  held: readonly string[];
  id: string;
  active: boolean;
}

export function ColleagueForm({ action, give, held, id, active }: ColleagueProps) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-3">
      <Told state={state} />
      <fieldset className="flex flex-wrap gap-x-5 gap-y-2">
        <legend className="sr-only">{words["company.role"]}</legend>
        {give.map((r) => (
          <label key={r.id} className="flex items-center gap-2">
            <input
              type="checkbox"
              name="roles"
              value={r.id}
              id={`${id}-${r.id}`}
              defaultChecked={held.includes(r.id)}
              className="checkbox checkbox-sm"
            />
            {r.name}
          </label>
        ))}
      </fieldset>
      <div className="flex flex-wrap gap-2">
        <button type="submit" name="act" value="roles" className="btn btn-sm" disabled={pending}>
          {words["company.keep-roles"]}
        </button>
        <button type="submit" name="act" value="out" className="btn btn-ghost btn-sm" disabled={pending}>
          {words["company.take-out"]}
        </button>
        {active && (
          <button type="submit" name="act" value="lead" className="btn btn-ghost btn-sm" disabled={pending}>
            {words["company.hand-over"]}
          </button>
        )}
      </div>
    </form>
  );
}
