"use client";
/** People found by name, company or role as one types, however many there are; the caller says what choosing one does. */
import { Command } from "cmdk";
import { type RefObject, useEffect, useState } from "react";

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
}

type Found = { people: FoundPerson[]; more: boolean } | "failed" | null;

export function PersonFinder({ dialog, source, label, placeholder, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState("");
  const [found, setFound] = useState<Found>(null);
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
        setFound(answer.ok ? await answer.json() : "failed");
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
        <Command label="People" className="grid" shouldFilter={false}>
          <div className="flex items-center gap-2 border-b border-base-300 p-3">
            <Command.Input
              autoFocus
              value={words}
              onValueChange={setWords}
              placeholder={placeholder}
              className="input input-ghost grow focus:outline-none"
            />
            <button type="button" className="btn btn-ghost btn-sm" onClick={() => dialog.current?.close()}>
              Close
            </button>
          </div>
          <Command.List className="max-h-96 overflow-y-auto p-2">
            {found === null && <p className="quiet p-4">Looking…</p>}
            {found === "failed" && <p className="p-4 text-accent">The people could not be loaded. Close this and try again.</p>}
            {found !== null && found !== "failed" && (
              <>
                <Command.Empty className="quiet p-4">Nobody of that name, company or role.</Command.Empty>
                {found.people.map((p) => (
                  <Command.Item
                    key={`${p.personId} ${p.membershipId}`}
                    value={`${p.personId} ${p.membershipId}`}
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
        </Command>
      </div>
    </dialog>
  );
}
