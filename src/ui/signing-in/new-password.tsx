"use client";
import type { FormState } from "../forms/form";
import { TextBox } from "../forms/text-box";
import { useWords } from "../words";

/** The boxes of every form that sets a password of one's own. `present`: the one that is there is asked for, too. */
export function NewPasswordBoxes({ state, present = false }: { state: FormState; present?: boolean }) {
  const words = useWords();
  return (
    <>
      {present && (
        <TextBox name="present" type="password" label={words["password.present"]} autoComplete="current-password" state={state} />
      )}
      <TextBox
        name="password"
        type="password"
        label={words["password.new"]}
        autoComplete="new-password"
        hint={words["password.hint"]}
        state={state}
      />
    </>
  );
}
