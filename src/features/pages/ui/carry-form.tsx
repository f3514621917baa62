"use client";
/** A page, or one of its sections, from another portal of the agency. */
import { useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { carryHere, type Elsewhere, pagesElsewhere } from "../actions";

interface Props {
  portal: string;
  revision: number;
  others: readonly { readonly slug: string; readonly name: string }[];
  /** The page that a section comes onto; null where whole pages come. */
  onto: string | null;
  onDone?: () => void;
}

export function CarryForm({ portal, revision, others, onto, onDone }: Props) {
  const [open, setOpen] = useState(false);
  const [from, setFrom] = useState("");
  const [pages, setPages] = useState<readonly Elsewhere[]>([]);
  const [page, setPage] = useState("");
  const [section, setSection] = useState("");
  const [problem, setProblem] = useState("");
  const [busy, start] = useTransition();
  if (others.length === 0) return null;
  if (!open)
    return (
      <button type="button" className="btn btn-sm w-fit" onClick={() => setOpen(true)}>
        {onto ? "Section from another portal" : "Page from another portal"}
      </button>
    );
  const choosePortal = (slug: string): void => {
    setFrom(slug);
    setPage("");
    setSection("");
    setPages([]);
    if (slug) start(async () => setPages((await answered(pagesElsewhere(portal, slug))) ?? []));
  };
  const sections = pages.find((p) => p.id === page)?.sections ?? [];
  const carry = (): void =>
    start(async () => {
      const answer = await answered(carryHere(portal, revision, { from, page, section: onto ? section : null, onto }));
      if (!answer) return;
      if (!answer.ok) return setProblem(answer.messages.join(" "));
      setProblem("");
      setOpen(false);
      onDone?.();
      const lost = answer.lost ?? [];
      const rest =
        lost.length > 0 ? ` Not found here: ${lost.slice(0, 6).join(", ")}${lost.length > 6 ? " and more" : ""}. Its sections say so.` : "";
      toast(`It stands here now, in the draft.${rest}`);
    });
  const select = (
    label: string,
    value: string,
    options: readonly { readonly id: string; readonly name: string }[],
    set: (v: string) => void,
  ) => (
    <label className="grid min-w-0 gap-1 text-sm font-medium">
      {label}
      <select className="select select-sm w-full" value={value} disabled={busy} onChange={(e) => set(e.target.value)}>
        <option value="">Choose…</option>
        {options.map((o) => (
          <option key={o.id} value={o.id}>
            {o.name}
          </option>
        ))}
      </select>
    </label>
  );
  const options = others.map((o) => ({ id: o.slug, name: o.name }));
  return (
    <div className="sheet flex flex-wrap items-end gap-3 p-4">
      {select("Portal", from, options, choosePortal)}
      {from && select("Page", page, pages, setPage)}
      {page && onto && select("Section", section, sections, setSection)}
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={busy || page === "" || (onto !== null && section === "")}
        onClick={carry}
      >
        Copy it here
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => setOpen(false)}>
        Cancel
      </button>
      {problem && (
        <p role="alert" className="field-error w-full">
          {problem}
        </p>
      )}
    </div>
  );
}
