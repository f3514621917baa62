"use client";
import { useRouter } from "next/navigation";
import { useRef, useState, useTransition } from "react";
import { toast } from "sonner";
import type { PartingTrial } from "@/data/parting/parting";
import { answered } from "@/ui/answered";
import { PersonFinder } from "@/ui/forms/person-finder";
import { part, takePartingBack } from "../../parting";
import { PartingTold } from "./parting-told";

interface Props {
  portal: string;
  of: "people" | "companies";
  stays: { id: string; name: string };
  /** Where people are found; companies are chosen among these. */
  source?: string;
  among?: readonly { id: string; name: string }[];
  locale: string;
  to: string;
}

export function Merge({ portal, of, stays, source, among, locale, to }: Props) {
  const router = useRouter();
  const finder = useRef<HTMLDialogElement>(null);
  const [busy, start] = useTransition();
  const [other, setOther] = useState<{ id: string; name: string } | null>(null);
  const [trial, setTrial] = useState<PartingTrial | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  const ask = (goes: { id: string; name: string }, really: boolean): void =>
    start(async () => {
      const answer = await answered(part(portal, { act: "merge", of, stays: stays.id, goes: goes.id }, really));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      setTrial(answer.ok ? answer.trials[0]! : null);
      if (!answer.ok || !really) return;
      toast.success(`${goes.name} is part of ${stays.name} now.`, {
        action: {
          label: "Undo",
          onClick: async () => {
            const back = await answered(takePartingBack(portal, [goes.id]));
            if (back?.problem) toast.error(back.problem);
            else if (back) toast.success(`${goes.name} is back.`);
          },
        },
        duration: 20_000,
      });
      router.push(to);
    });
  const choose = (x: { id: string; name: string }): void => {
    setOther(x);
    ask(x, false);
  };
  return (
    <div className="sheet grid gap-4 p-5">
      {among ? (
        <OtherCompany other={other} among={among} choose={choose} />
      ) : (
        <div>
          <button type="button" className="btn btn-sm" onClick={() => finder.current?.showModal()}>
            {other ? `Not ${other.name}: choose another` : "Choose the other record…"}
          </button>
          <PersonFinder
            dialog={finder}
            source={source ?? ""}
            label="The other record"
            placeholder="Name, company or role"
            onChoose={(x) => {
              finder.current?.close();
              choose({ id: x.personId, name: x.name });
            }}
          />
        </div>
      )}
      {busy && !trial && <span className="loading loading-spinner loading-sm" role="status" aria-label="Trying" />}
      {message && (
        <p role="alert" className="alert alert-error">
          {message}
        </p>
      )}
      {trial && other && (
        <div className="grid gap-4" role="status">
          <PartingTold trial={trial} of={of} locale={locale} />
          <div>
            <button type="button" className="btn btn-primary" disabled={busy} onClick={() => ask(other, true)}>
              Make them one
            </button>
          </div>
        </div>
      )}
    </div>
  );
}

interface OtherCompanyProps {
  readonly other: { id: string; name: string } | null;
  readonly among: readonly { id: string; name: string }[];
  readonly choose: (x: { id: string; name: string }) => void;
}

/** Which company becomes part of it. */
function OtherCompany({ other, among, choose }: OtherCompanyProps) {
  return (
    <label className="grid max-w-sm gap-1">
      <span className="field-label mb-0!">The company that becomes part of it</span>
      <select
        className="select w-full"
        value={other?.id ?? ""}
        onChange={(e) => {
          const x = among.find((c) => c.id === e.target.value);
          if (x) choose(x);
        }}
      >
        <option value="">choose…</option>
        {among.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </select>
    </label>
  );
}
