"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { useWords } from "@/ui/words";

interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  id: string;
}

export function KeepForm({ action, id }: Props) {
  const { state, pending, form } = useSafeForm(action);
  const words = useWords();
  return (
    <form {...form} className="grid gap-2">
      <label htmlFor={id} className="text-sm">
        {words["views.as"]}
      </label>
      <div className="flex gap-2">
        <input
          key={state.turn}
          id={id}
          name="name"
          maxLength={60}
          className="input input-sm w-full"
          defaultValue={String(state.values.name ?? "")}
          aria-invalid={state.errors.name ? true : undefined}
          aria-describedby={`${id}-told`}
        />
        <button type="submit" className="btn btn-sm" disabled={pending}>
          {words["views.keep"]}
        </button>
      </div>
      <p id={`${id}-told`} role="status" className={state.errors.name ? "field-error" : "quiet text-sm"}>
        {state.errors.name ?? state.message ?? state.done}
      </p>
    </form>
  );
}
