"use client";
/** A field filled for the records that have nothing in it: with a value, from another field, or by a rule. */
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { fill } from "../../shaping";

interface Props {
  portal: string;
  id: string;
  name: string;
  fields: { id: string; name: string }[];
  locale: string;
}

type Kind = "value" | "field" | "rule";

export function Fill({ portal, id, name, fields, locale }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [kind, setKind] = useState<Kind>("value");
  const [text, setText] = useState("");
  const [of, setOf] = useState(fields[0]?.id ?? "");
  const [is, setIs] = useState("");
  const [said, setSaid] = useState<{ ok: boolean; words: string } | null>(null);
  const act = (): void =>
    start(async () => {
      const given = kind === "value" ? { kind, text } : kind === "field" ? { kind, from: of } : { kind, text, of, is };
      const answer = await answered(fill(portal, id, given));
      if (!answer) return;
      if (!answer.ok) {
        setSaid({ ok: false, words: answer.message });
        return;
      }
      const { filled, unfit } = answer.value;
      const rest = unfit.length > 0 ? ` These do not fit and were left: ${unfit.slice(0, 6).join(", ")}.` : "";
      setSaid({ ok: true, words: `${filled === 1 ? "One record is" : `${filled.toLocaleString(locale)} records are`} filled.${rest}` });
      router.refresh();
    });
  return (
    <section className="sheet grid max-w-3xl gap-4 p-6" aria-label="Fill it">
      <div>
        <h2>Fill it where it is empty</h2>
        <p className="quiet mt-1 text-sm">For records that are there. What has a value keeps it.</p>
      </div>
      {said && (
        <p role={said.ok ? "status" : "alert"} className={`alert ${said.ok ? "alert-success alert-soft" : "alert-error"}`}>
          {said.words}
        </p>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <label className="grid gap-1 text-sm">
          <span className="quiet">{name} becomes</span>
          <select className="select select-sm w-44" value={kind} onChange={(e) => setKind(e.target.value as Kind)}>
            <option value="value">a value</option>
            <option value="field">what another field says</option>
            <option value="rule">a value, by a rule</option>
          </select>
        </label>
        {kind !== "field" && (
          <label className="grid gap-1 text-sm">
            <span className="quiet">The value</span>
            <input className="input input-sm w-44" value={text} onChange={(e) => setText(e.target.value)} />
          </label>
        )}
        {kind !== "value" && (
          <label className="grid gap-1 text-sm">
            <span className="quiet">{kind === "field" ? "From" : "Where"}</span>
            <select className="select select-sm w-44" value={of} onChange={(e) => setOf(e.target.value)}>
              {fields.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name}
                </option>
              ))}
            </select>
          </label>
        )}
        {kind === "rule" && (
          <label className="grid gap-1 text-sm">
            <span className="quiet">is</span>
            <input className="input input-sm w-44" value={is} placeholder="empty" onChange={(e) => setIs(e.target.value)} />
          </label>
        )}
        <button type="button" className="btn btn-sm" disabled={busy || (kind !== "field" && text.trim() === "")} onClick={act}>
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          Fill it
        </button>
      </div>
    </section>
  );
}
