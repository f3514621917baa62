"use client";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { makePortal } from "../actions";

export function NewPortalForm() {
  const { state, pending, form } = useSafeForm(makePortal);
  return (
    <form {...form} className="flex flex-wrap items-start gap-4">
      {state.message && (
        <p role="alert" className="alert alert-error w-full">
          {state.message}
        </p>
      )}
      <TextBox name="name" label="Name that clients see" state={state} className="w-full sm:w-52" />
      <TextBox name="slug" label="Address, in small letters" state={state} className="w-full sm:w-52" />
      <button type="submit" className="btn btn-primary sm:mt-6.5" disabled={pending}>
        Make the portal
      </button>
    </form>
  );
}
