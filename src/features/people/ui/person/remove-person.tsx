"use client";
/** What becomes of what points to them is asked before they go, and told in numbers. */
import { useRouter } from "next/navigation";
import { type Dispatch, type RefObject, type SetStateAction, useRef, useState, useTransition } from "react";
import { toast } from "sonner";
import type { PartingTrial } from "@/data/parting/parting";
import { answered } from "@/ui/answered";
import { PersonFinder } from "@/ui/forms/person-finder";
import { part, takePartingBack } from "../../parting";
import { PartingTold } from "./parting-told";

interface Props {
  portal: string;
  person: { id: string; name: string };
  source: string;
  locale: string;
  to: string;
}

const KINDS = {
  keep: "goes on naming them: only their name is left of them",
  hand: "is handed to somebody else",
  clear: "names nobody any more",
} as const;
type Kind = keyof typeof KINDS;

export function RemovePerson({ portal, person, source, locale, to }: Props) {
  const router = useRouter();
  const finder = useRef<HTMLDialogElement>(null);
  const [busy, start] = useTransition();
  const [kind, setKind] = useState<Kind>("keep");
  const [heir, setHeir] = useState<{ id: string; name: string } | null>(null);
  const [trial, setTrial] = useState<PartingTrial | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  const anew = (change: () => void): void => {
    change();
    setTrial(null);
    setMessage(null);
  };
  const ask = (really: boolean): void =>
    start(async () => {
      const leaving = kind === "hand" ? { kind, to: heir?.id ?? "" } : { kind };
      const answer = await answered(part(portal, { act: "remove", ids: [person.id], leaving }, really));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      setTrial(answer.ok ? answer.trials[0]! : null);
      if (!answer.ok || !really) return;
      toast.success(`${person.name} is removed.`, {
        action: {
          label: "Undo",
          onClick: async () => {
            const back = await answered(takePartingBack(portal, [person.id]));
            if (back?.problem) toast.error(back.problem);
            else if (back) toast.success(`${person.name} is back.`);
          },
        },
        duration: 20_000,
      });
      router.push(to);
    });
  return (
    <div className="sheet grid gap-4 p-5">
      <fieldset className="grid gap-2">
        <legend className="field-label">What points to {person.name}</legend>
        {(Object.keys(KINDS) as Kind[]).map((k) => (
          <label key={k} className="flex items-center gap-2">
            <input type="radio" name="leaving" className="radio radio-sm" checked={kind === k} onChange={() => anew(() => setKind(k))} />
            {KINDS[k]}
          </label>
        ))}
      </fieldset>
      {kind === "hand" && <HeirChoice finder={finder} heir={heir} source={source} anew={anew} setHeir={setHeir} />}
      <div>
        <button type="button" className="btn" disabled={busy || (kind === "hand" && !heir)} onClick={() => ask(false)}>
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          See what it does
        </button>
        <span className="quiet ml-3 text-sm">Nothing is removed yet.</span>
      </div>
      {message && (
        <p role="alert" className="alert alert-error">
          {message}
        </p>
      )}
      {trial && (
        <div className="grid gap-4" role="status">
          <PartingTold trial={trial} of="people" locale={locale} />
          <div>
            <button type="button" className="btn btn-primary" disabled={busy} onClick={() => ask(true)}>
              Remove {person.name}
            </button>
          </div>
        </div>
      )}
    </div>
  );
}

interface HeirChoiceProps {
  readonly finder: RefObject<HTMLDialogElement | null>;
  readonly heir: { id: string; name: string } | null;
  readonly source: string;
  readonly anew: (change: () => void) => void;
  readonly setHeir: Dispatch<SetStateAction<{ id: string; name: string } | null>>;
}

/** Who gets what they have. */
function HeirChoice({ finder, heir, source, anew, setHeir }: HeirChoiceProps) {
  return (
    <div>
      <button type="button" className="btn btn-sm" onClick={() => finder.current?.showModal()}>
        {heir ? `To ${heir.name}: choose somebody else` : "Choose who takes it over…"}
      </button>
      <PersonFinder
        dialog={finder}
        source={source}
        label="Who takes it over"
        placeholder="Name, company or role"
        onChoose={(x) => {
          finder.current?.close();
          anew(() => setHeir({ id: x.personId, name: x.name }));
        }}
      />
    </div>
  );
}
