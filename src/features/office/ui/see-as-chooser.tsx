"use client";
import { Command } from "cmdk";
/** Always at hand at the top: choose a person, and the portal opens as that person sees it. */
import { Eye } from "lucide-react";
import { useEffect, useRef, useState } from "react";

export interface Choice {
  personId: string;
  membershipId: string | null;
  name: string;
  company: string;
  roles: string;
  status: string;
}

export function SeeAsChooser({ people, action }: { people: Choice[]; action: (data: FormData) => Promise<void> }) {
  const dialog = useRef<HTMLDialogElement>(null);
  const form = useRef<HTMLFormElement>(null);
  const [chosen, setChosen] = useState<Choice | null>(null);
  useEffect(() => {
    if (chosen) form.current?.requestSubmit();
  }, [chosen]);
  return (
    <>
      <button type="button" className="btn btn-sm" onClick={() => dialog.current?.showModal()}>
        <Eye size={15} aria-hidden /> See as…
      </button>
      <form ref={form} action={action} className="hidden">
        <input type="hidden" name="person" value={chosen?.personId ?? ""} readOnly />
        <input type="hidden" name="membership" value={chosen?.membershipId ?? ""} readOnly />
      </form>
      <dialog ref={dialog} className="modal" aria-label="See the portal as">
        <div className="modal-box max-w-xl p-0">
          <Command label="People" className="grid">
            <div className="flex items-center gap-2 border-b border-base-300 p-3">
              <Command.Input
                autoFocus
                placeholder="Whose portal do you want to see?"
                className="input input-ghost grow focus:outline-none"
              />
              <form method="dialog">
                <button type="submit" className="btn btn-ghost btn-sm">
                  Close
                </button>
              </form>
            </div>
            <Command.List className="max-h-96 overflow-y-auto p-2">
              <Command.Empty className="quiet p-4">Nobody of that name, company or role.</Command.Empty>
              {people.map((p) => (
                <Command.Item
                  key={`${p.personId} ${p.membershipId}`}
                  value={`${p.name} ${p.company} ${p.roles} ${p.membershipId ?? ""}`}
                  onSelect={() => setChosen(p)}
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
            </Command.List>
          </Command>
        </div>
      </dialog>
    </>
  );
}
