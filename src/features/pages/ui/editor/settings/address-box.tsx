"use client";
import { useEffect, useRef, useState } from "react";
import { type AddressTemplate, addressTemplate, templateFromText, templateToText } from "@/core/text/template";
import { Words } from "../controls";

interface Props {
  /** Null while there is none yet. */
  value: AddressTemplate | null;
  /** Fields that may stand in braces. */
  fields: readonly { readonly id: string; readonly name: string }[];
  onChange: (address: AddressTemplate) => void;
}

/** As it is typed: "https://maps.example/?q={Map reference}". It is kept once it is an address. */
export function AddressBox({ value, fields, onChange }: Props) {
  const textOf = (t: AddressTemplate | null): string => (t ? templateToText(t, (id) => fields.find((f) => f.id === id)?.name ?? "?") : "");
  const [text, setText] = useState(textOf(value));
  const [problem, setProblem] = useState("");
  // What is set from elsewhere, by an undo above all, stands in the box; what is typed here does not come back to it.
  const kept = useRef(JSON.stringify(value));
  useEffect(() => {
    if (kept.current === JSON.stringify(value)) return;
    kept.current = JSON.stringify(value);
    setText(textOf(value));
    setProblem("");
  });
  const keep = (typed: string): void => {
    setText(typed);
    const parts = templateFromText(typed, (name) => fields.find((f) => f.name === name)?.id);
    const read = parts ? addressTemplate.safeParse(parts) : null;
    setProblem(read === null ? "A name in braces is that of a field of this record." : read.success ? "" : read.error.issues[0]!.message);
    if (!read?.success) return;
    kept.current = JSON.stringify(read.data);
    onChange(read.data);
  };
  return (
    <>
      <Words
        label="Address"
        value={text}
        onChange={keep}
        hint={fields.length > 0 ? "From https:// on. Fields of the record stand in braces: {Name}." : "From https:// on."}
      />
      {problem && <p className="field-error">{problem}</p>}
    </>
  );
}
