"use client";
/** Always at hand at the top: choose a person, and the portal opens as that person sees it. */
import { Eye } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { type FoundPerson, PersonFinder } from "@/ui/forms/person-finder";
import { SafeForm } from "@/ui/forms/safe-form";

export function SeeAsChooser({ source, action }: { source: string; action: (data: FormData) => Promise<void> }) {
  const dialog = useRef<HTMLDialogElement>(null);
  const form = useRef<HTMLFormElement>(null);
  const [chosen, setChosen] = useState<FoundPerson | null>(null);
  useEffect(() => {
    if (chosen) form.current?.requestSubmit();
  }, [chosen]);
  return (
    <>
      <button type="button" className="btn btn-sm" onClick={() => dialog.current?.showModal()}>
        <Eye size={15} aria-hidden /> See as…
      </button>
      <SafeForm ref={form} action={action} className="hidden">
        <input type="hidden" name="person" value={chosen?.personId ?? ""} readOnly />
        <input type="hidden" name="membership" value={chosen?.membershipId ?? ""} readOnly />
      </SafeForm>
      <PersonFinder
        dialog={dialog}
        source={source}
        label="See the portal as"
        placeholder="Whose portal do you want to see?"
        also={{
          label: "As a visitor, signed out",
          choose: () => {
            dialog.current?.close();
            setChosen({ personId: "visitor", membershipId: null, name: "", company: "", roles: "", status: "" });
          },
        }}
        onChoose={(p) => {
          dialog.current?.close(); // should no answer come, the notice that says so is seen
          setChosen({ ...p }); // choosing the same person again asks again
        }}
      />
    </>
  );
}
