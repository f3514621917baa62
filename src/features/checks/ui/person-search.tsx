"use client";
import { Search } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { PersonFinder } from "@/ui/forms/person-finder";

/** A button with the person's name that opens the search; choosing one sends the form it stands in. */
export function PersonSearch({ label, value, text, source }: { label: string; value: string; text: string; source: string }) {
  const dialog = useRef<HTMLDialogElement>(null);
  const field = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState(value);
  useEffect(() => {
    if (chosen !== value) field.current?.form?.requestSubmit();
  }, [chosen, value]);
  return (
    <div className="grid gap-1">
      <span className="field-label mb-0!">{label}</span>
      <input ref={field} type="hidden" name="as" value={chosen} readOnly />
      <button
        type="button"
        className="input w-full min-w-72 cursor-pointer justify-between text-left md:min-w-md"
        aria-label={`${label}: ${text}. Choose another person`}
        onClick={() => dialog.current?.showModal()}
      >
        <span className="truncate">{text}</span>
        <Search size={15} aria-hidden className="shrink-0 opacity-60" />
      </button>
      <PersonFinder
        dialog={dialog}
        source={source}
        label="Choose a person"
        placeholder="Name, company or role"
        onChoose={(p) => {
          dialog.current?.close();
          setChosen(`${p.personId} ${p.membershipId ?? ""}`.trim());
        }}
      />
    </div>
  );
}
