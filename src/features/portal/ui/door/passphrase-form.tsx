"use client";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { useWords } from "@/ui/words";
import { openPage } from "../../records/form-actions";

export function PassphraseForm({ page }: { page: string }) {
  const { state, pending, form } = useSafeForm(openPage);
  const words = useWords();
  return (
    <form {...form} className="grid gap-4">
      <input type="hidden" name="page" value={page} />
      <TextBox name="secret" type="password" label={words["passphrase.label"]} autoComplete="off" state={state} />
      <button type="submit" className="btn btn-primary" disabled={pending}>
        {words["passphrase.open"]}
      </button>
    </form>
  );
}
