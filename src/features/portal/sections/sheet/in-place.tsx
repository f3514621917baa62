"use client";
/** One field changed where it stands: Enter keeps it, Escape leaves it. What was kept is said below, with the way back. */
import { Pencil } from "lucide-react";
import { useRouter } from "next/navigation";
import { type ReactNode, useRef, useState, useTransition } from "react";
import type { FormField } from "@/core/forms/form-field";
import { answerOf } from "@/ui/answered";
import { Field } from "@/ui/forms/record-form";
import { WithRecords } from "@/ui/forms/record-picker";
import { sayBelow } from "@/ui/forms/said-below";
import { useWords } from "@/ui/words";
import { placeValue } from "../../records/act-actions";
import { findRecords } from "../../records/choice-actions";

interface Props {
  field: FormField;
  table: string;
  record: string;
  acting: string;
  seen: string;
  closed: boolean;
  label: string;
  children: ReactNode;
}

export function InPlace({ field, table, record, acting, seen, closed, label, children }: Props) {
  const words = useWords();
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [problem, setProblem] = useState("");
  const [busy, start] = useTransition();
  const form = useRef<HTMLFormElement>(null);
  const opener = useRef<HTMLButtonElement>(null);
  const close = (): void => {
    setOpen(false);
    setProblem("");
    requestAnimationFrame(() => opener.current?.focus());
  };
  const keep = (): void =>
    start(async () => {
      const values = new FormData(form.current!).getAll(field.id).map(String);
      const asked = { table, record, field: field.id, acting };
      const answer = await answerOf(placeValue({ ...asked, seen, values }));
      if (!answer?.ok) {
        setProblem(answer?.message ?? words["answer.none"]);
        return;
      }
      const now = answer.seen;
      sayBelow({
        words: `${field.name}: ${words["place.kept"]}`,
        tone: "good",
        undo: async () => {
          const back = await answerOf(placeValue({ ...asked, seen: now, values: [...field.value] }));
          router.refresh();
          return back?.ok ? words["said.back"] : (back?.message ?? words["answer.none"]);
        },
      });
      close();
      router.refresh();
    });
  if (!open)
    return (
      <span className="group inline-flex flex-wrap items-center gap-2">
        {children}
        <button
          ref={opener}
          type="button"
          className="btn btn-ghost btn-xs min-h-6 min-w-6"
          aria-label={label}
          disabled={closed}
          onClick={() => setOpen(true)}
        >
          <Pencil size={13} aria-hidden />
        </button>
      </span>
    );
  return (
    <form
      ref={form}
      noValidate
      className="grid max-w-md gap-2 [&_.field-label]:sr-only"
      onSubmit={(e) => {
        e.preventDefault();
        if (!busy) keep();
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") close();
      }}
    >
      <WithRecords value={findRecords}>
        <Field field={field} error={problem || undefined} value={field.value} focused />
      </WithRecords>
      <span className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-xs" disabled={busy}>
          {words["place.keep"]}
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={close}>
          {words["form.cancel"]}
        </button>
      </span>
    </form>
  );
}
