"use client";
/** People found by name, company or role as one types, however many there are; the caller says what choosing one does. */
import { Command } from "cmdk";
import { type RefObject, useEffect, useRef, useState } from "react";

export interface FoundPerson {
  personId: string;
  membershipId: string | null;
  name: string;
  company: string;
  roles: string;
  status: string;
}

interface Props {
  dialog: RefObject<HTMLDialogElement | null>;
  /** Address that answers `?q=` with people. */
  source: string;
  label: string;
  placeholder: string;
  onChoose: (p: FoundPerson) => void;
  /** Something else to choose than a person. */
  also?: { readonly label: string; readonly choose: () => void };
}

/** `of`: the words that these were found for. */
type Found = { people: FoundPerson[]; more: boolean; of: string } | "failed" | null;

const keyOf = (p: FoundPerson): string => `${p.personId} ${p.membershipId}`;

/** Finds a person by words of their name, e-mail, company or role. */
export function PersonFinder({ dialog, source, label, placeholder, onChoose, also }: Props) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState("");
  const [found, setFound] = useState<Found>(null);
  const [marked, setMarked] = useState("");
  // Enter may come before the answer does: then the first of the answer is meant.
  const hasty = useRef(false);
  const choose = useRef(onChoose);
  choose.current = onChoose;
  useEffect(() => {
    const d = dialog.current;
    // The dialog tells of opening only through its attribute.
    const seen = new MutationObserver(() => setOpen(!!d?.open));
    if (d) seen.observe(d, { attributeFilter: ["open"] });
    return () => seen.disconnect();
  }, [dialog]);
  useEffect(() => {
    if (!open) return;
    const stop = new AbortController();
    const ask = async (): Promise<void> => {
      try {
        const answer = await fetch(`${source}?${new URLSearchParams({ q: words })}`, { signal: stop.signal });
        if (!answer.ok) return setFound("failed");
        const next = { ...((await answer.json()) as { people: FoundPerson[]; more: boolean }), of: words };
        setFound(next);
        const [first] = next.people;
        setMarked(first ? keyOf(first) : "");
        if (hasty.current && first) choose.current(first);
        hasty.current = false;
      } catch {
        if (!stop.signal.aborted) setFound("failed");
      }
    };
    const timer = setTimeout(ask, words ? 120 : 0);
    return () => {
      stop.abort();
      clearTimeout(timer);
    };
  }, [open, words, source]);
  return (
    <dialog ref={dialog} className="modal" aria-label={label}>
      <div className="modal-box max-w-xl p-0">
        <Command label="People" className="grid" shouldFilter={false} value={marked} onValueChange={setMarked}>
          <div className="flex items-center gap-2 border-b border-base-300 p-3">
            <Command.Input
              autoFocus
              value={words}
              onValueChange={setWords}
              onKeyDown={(e) => {
                if (e.key !== "Enter" || (found !== "failed" && found?.of === words)) return;
                e.preventDefault();
                e.stopPropagation();
                hasty.current = true;
              }}
              placeholder={placeholder}
              className="input input-ghost grow focus:outline-none"
            />
            <button type="button" className="btn btn-ghost btn-sm" onClick={() => dialog.current?.close()}>
              Close
            </button>
          </div>
          {also && (
            <button type="button" className="link-plain cursor-pointer px-5 pt-3 text-left text-sm" onClick={also.choose}>
              {also.label}
            </button>
          )}
          <FoundPeople found={found} onChoose={onChoose} />
        </Command>
      </div>
    </dialog>
  );
}

/** Who the words find. */
function FoundPeople({ found, onChoose }: { found: Found; onChoose: (p: FoundPerson) => void }) {
  return (
    <Command.List className="max-h-96 overflow-y-auto p-2">
      {found === null && <p className="quiet p-4">Looking…</p>}
      {found === "failed" && <p className="p-4 text-accent">The people could not be loaded. Close this and try again.</p>}
      {found !== null && found !== "failed" && (
        <>
          <Command.Empty className="quiet p-4">Nobody of that name, company or role.</Command.Empty>
          {found.people.map((p) => (
            <Command.Item
              key={keyOf(p)}
              value={keyOf(p)}
              onSelect={() => onChoose(p)}
              className="flex cursor-pointer items-baseline justify-between gap-3 rounded-md px-3 py-2 data-[selected=true]:bg-base-200"
            >
              <span>
                <span className="font-medium">{p.name}</span> <span className="quiet">{p.roles}</span>
              </span>
              <span className="quiet text-sm">
                {p.company}
                {p.status !== "active" && `, ${p.status}`}
              </span>
            </Command.Item>
          ))}
          {found.more && <p className="quiet px-3 py-2 text-sm">There are more: type a name, a company or a role.</p>}
        </>
      )}
    </Command.List>
  );
}
