"use client";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import type { SourceKind } from "@/services/sources";
import type { SourceField } from "@/services/sources/contract";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import { connect } from "./actions";

interface Kind {
  readonly kind: SourceKind;
  readonly name: string;
  readonly about: string;
  readonly fields: readonly SourceField[];
}

interface Props {
  portal: string;
  list: string;
  kinds: readonly Kind[];
}

export function NewSystem({ portal, list, kinds }: Props) {
  const [kind, setKind] = useState<SourceKind>(kinds[0]!.kind);
  const [name, setName] = useState("");
  const [settings, setSettings] = useState<Record<string, string>>({});
  const [wrong, setWrong] = useState<{ field: string; message: string } | null>(null);
  const [busy, start] = useTransition();
  const router = useRouter();
  const chosen = kinds.find((k) => k.kind === kind)!;
  const save = (): void =>
    start(async () => {
      setWrong(null);
      const answer = await answered(connect(portal, { name, kind, settings }));
      if (!answer) return;
      if (answer.ok) router.push(`${list}/${answer.id}`);
      else setWrong("field" in answer ? answer : { field: "", message: answer.message });
    });
  const boxOf = (f: SourceField, value: string, set: (v: string) => void) => (
    <SettingBox key={f.name} f={f} value={value} set={set} wrong={wrong?.field === f.name ? wrong.message : null} />
  );
  return (
    <form
      className="sheet grid max-w-3xl gap-5 p-6"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      {wrong?.field === "" && (
        <div role="alert" className="alert alert-error">
          {wrong.message}
        </div>
      )}
      <KindChoice
        kinds={kinds}
        kind={kind}
        choose={(k) => {
          setKind(k);
          setSettings({});
          setWrong(null);
        }}
      />
      {boxOf({ name: "name", label: "What you call it", hint: "Such as Client records" }, name, setName)}
      {chosen.fields.map((f) => boxOf(f, settings[f.name] ?? "", (v) => setSettings({ ...settings, [f.name]: v })))}
      <div className="flex items-center gap-4">
        <button type="submit" className="btn btn-primary" disabled={busy}>
          {busy ? "Trying…" : "Connect"}
        </button>
        <Link className="link-plain" href={list}>
          Cancel
        </Link>
      </div>
    </form>
  );
}

interface BoxProps {
  f: SourceField;
  value: string;
  set: (value: string) => void;
  wrong: string | null;
}

function SettingBox({ f, value, set, wrong }: BoxProps) {
  const id = `system-${f.name}`;
  return (
    <div>
      <label className="field-label" htmlFor={id}>
        {f.label} {f.optional && <span className="quiet font-normal">(optional)</span>}
      </label>
      <input
        id={id}
        type={f.secret ? "password" : "text"}
        className="input w-full"
        autoComplete="off"
        value={value}
        onChange={(e) => set(e.target.value)}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${id}-hint ${id}-error`}
      />
      <p id={`${id}-hint`} className="quiet mt-1 text-sm">
        {f.hint}
      </p>
      <p id={`${id}-error`} className="field-error">
        {wrong}
      </p>
    </div>
  );
}

function KindChoice({ kinds, kind, choose }: { kinds: readonly Kind[]; kind: SourceKind; choose: (kind: SourceKind) => void }) {
  return (
    <fieldset className="grid gap-2">
      <legend className="field-label">Where the data is</legend>
      {kinds.map((k) => (
        <label key={k.kind} className="flex items-start gap-2">
          <input
            type="radio"
            name="system-kind"
            className="radio radio-sm mt-0.5"
            checked={k.kind === kind}
            onChange={() => choose(k.kind)}
          />
          <span>
            {k.name}
            <span className="quiet block text-sm">{k.about}</span>
          </span>
        </label>
      ))}
    </fieldset>
  );
}
