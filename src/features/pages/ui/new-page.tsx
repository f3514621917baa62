"use client";
/** A page of one's own: named, about nothing or about one record of a table, then laid out. */
import { Plus } from "lucide-react";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { makePage } from "../actions";

interface Props {
  portal: string;
  revision: number;
  at: string;
  tables: readonly { id: string; name: string; singular: string }[];
}

export function NewPage({ portal, revision, at, tables }: Props) {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [problem, setProblem] = useState("");
  const [busy, start] = useTransition();
  const make = (e: React.FormEvent<HTMLFormElement>): void => {
    e.preventDefault();
    const data = new FormData(e.currentTarget);
    start(async () => {
      const answer = await answered(
        makePage(portal, revision, { name: String(data.get("name")), about: String(data.get("about")) || null }),
      );
      if (!answer) return;
      if (!answer.ok) return setProblem(answer.messages.join(" "));
      router.push(`${at}/pages/${answer.id}`);
    });
  };
  if (!open)
    return (
      <button type="button" className="btn btn-primary btn-sm justify-self-start" onClick={() => setOpen(true)}>
        <Plus size={15} aria-hidden /> New page
      </button>
    );
  return (
    <form className="sheet flex flex-wrap items-end gap-3 p-4" onSubmit={make} noValidate>
      <label className="grid gap-1 text-sm font-medium">
        Name
        <input
          name="name"
          className="input"
          maxLength={80}
          ref={(el) => el?.focus()}
          aria-describedby={problem ? "new-page-problem" : undefined}
        />
      </label>
      <label className="grid gap-1 text-sm font-medium">
        About
        <select name="about" className="select">
          <option value="">nothing in particular</option>
          {tables.map((t) => (
            <option key={t.id} value={t.id}>
              one {t.singular.toLowerCase()}
            </option>
          ))}
        </select>
      </label>
      <button type="submit" className="btn btn-primary" disabled={busy}>
        Make it
      </button>
      <button type="button" className="btn btn-ghost" onClick={() => setOpen(false)}>
        Cancel
      </button>
      {problem && (
        <p id="new-page-problem" role="alert" className="field-error w-full">
          {problem}
        </p>
      )}
    </form>
  );
}
