"use client";
/** What is selected: its title and width, what its kind has to settle, and for whom it is shown. */
import type { Audience, Section } from "@/core/pages/page";
import { SECTION_KINDS } from "@/core/sections";
import { useOffered } from "./around";
import { Check, Choose, Several, Words } from "./controls";
import { FilterButton } from "./filter-button";
import { KindPanel } from "./settings";

const WIDTHS = [
  { value: "12", label: "whole" },
  { value: "8", label: "two thirds" },
  { value: "7", label: "7 of 12" },
  { value: "6", label: "half" },
  { value: "5", label: "5 of 12" },
  { value: "4", label: "a third" },
  { value: "3", label: "a quarter" },
];

interface Props {
  section: Section;
  problems: readonly string[];
  onChange: (s: Section) => void;
}

export function SectionPanel({ section: s, problems, onChange }: Props) {
  const { about, people } = useOffered();
  const kind = SECTION_KINDS[s.kind];
  const widths = WIDTHS.some((w) => w.value === String(s.width))
    ? WIDTHS
    : [...WIDTHS, { value: String(s.width), label: `${s.width} of 12` }];
  return (
    <div className="grid gap-4">
      <div>
        <h2 className="text-base">{kind.name}</h2>
        <p className="quiet text-sm">{kind.what}</p>
      </div>
      {problems.length > 0 && (
        <ul role="alert" className="alert alert-warning alert-soft block text-sm">
          {problems.map((p) => (
            <li key={p}>{p}</li>
          ))}
          <li>Until that is mended, nobody is shown it.</li>
        </ul>
      )}
      <Words label="Title" value={s.title} placeholder="By itself" onChange={(title) => onChange({ ...s, title: title.slice(0, 120) })} />
      <Choose label="Width" value={String(s.width)} options={widths} onChange={(v) => onChange({ ...s, width: Number(v) })} />
      <KindPanel section={s} onChange={onChange} />
      <details className="border-t border-base-300 pt-3">
        <summary className="cursor-pointer font-medium">For whom, and when</summary>
        <div className="mt-3 grid gap-3">
          <AudienceFields value={s.audience} onChange={(audience) => onChange({ ...s, audience })} />
          {about && (
            <FilterButton
              label={`Only if this ${about.singular.toLowerCase()} is so`}
              table={about.id}
              value={s.record}
              onChange={(record) => onChange({ ...s, record })}
            />
          )}
          <FilterButton
            label="Only if the reader is so"
            table={people.id}
            value={s.reader}
            onChange={(reader) => onChange({ ...s, reader })}
          />
          <p className="quiet text-sm">This is courtesy: what it hides is not protected by it. What is open, the grants decide.</p>
          <Check label="Begins a row of its own" value={s.breaks} onChange={(breaks) => onChange({ ...s, breaks })} />
        </div>
      </details>
    </div>
  );
}

export function AudienceFields({ value, onChange }: { value: Audience; onChange: (a: Audience) => void }) {
  const { roles, features } = useOffered();
  return (
    <>
      <Several
        label="Whoever is"
        none="anybody"
        options={[
          { value: "out", label: "signed out" },
          { value: "in", label: "signed in" },
          { value: "waiting", label: "waiting for approval" },
          { value: "unpaid", label: "without a paid plan" },
        ]}
        value={value.states}
        onChange={(states) => onChange({ ...value, states: states as Audience["states"] })}
      />
      <Several
        label="With the role"
        none="any"
        options={roles.map((r) => ({ value: r.id, label: r.name }))}
        value={value.roles}
        onChange={(next) => onChange({ ...value, roles: next })}
      />
      {features.length > 0 && (
        <Choose
          label="Whose plan has"
          value={value.feature ?? ""}
          options={[{ value: "", label: "anything" }, ...features.map((f) => ({ value: f.id, label: f.name }))]}
          onChange={(v) => onChange({ ...value, feature: v || null })}
        />
      )}
    </>
  );
}
