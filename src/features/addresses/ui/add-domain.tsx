"use client";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";

export function AddDomain({ action }: { action: (before: FormState, data: FormData) => Promise<FormState> }) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid max-w-xl gap-4">
      <Told state={state} />
      <TextBox state={state} name="host" label="Name of the host" hint="Such as clients.agency.example" />
      <div>
        <button type="submit" className="btn btn-primary" disabled={pending}>
          Add the domain
        </button>
      </div>
    </form>
  );
}
