"use client";
import type { SectionOf } from "@/core/pages/page";
import { type SettingsProps, useOffered } from "../around";
import { Check, Choose, FieldsPicker, Several } from "../controls";

export function SheetPanel({ section, onChange }: SettingsProps<SectionOf<"sheet">>) {
  const { about, acts } = useOffered();
  const { config } = section;
  if (!about) return null;
  return (
    <>
      <FieldsPicker
        label="Fields"
        fields={about.fields}
        value={config.fields}
        make={(field) => ({ field })}
        onChange={(fields) => onChange({ ...config, fields })}
      />
      <div className="grid grid-cols-2 gap-2">
        <Choose
          label="Columns"
          value={String(config.columns)}
          options={["1", "2", "3"].map((v) => ({ value: v, label: v }))}
          onChange={(v) => onChange({ ...config, columns: Number(v) })}
        />
        <Choose
          label="Names"
          value={config.labels}
          options={[
            { value: "beside", label: "beside" },
            { value: "above", label: "above" },
          ]}
          onChange={(v) => onChange({ ...config, labels: v as "beside" | "above" })}
        />
      </div>
      <div>
        <Check
          label="Empty fields too"
          value={config.empty === "shown"}
          onChange={(v) => onChange({ ...config, empty: v ? "shown" : "hidden" })}
        />
        <Check
          label="Changed where they stand, if granted"
          value={config.inPlace}
          onChange={(inPlace) => onChange({ ...config, inPlace })}
        />
        <Check
          label="The way to the form that changes it"
          value={config.changes}
          onChange={(changes) => onChange({ ...config, changes })}
        />
        <Check label="The way to remove it, if granted" value={config.removes} onChange={(removes) => onChange({ ...config, removes })} />
      </div>
      <Several
        label="Buttons"
        none="none"
        options={acts
          .filter((a) => a.table === about.id && (a.on === "change" || a.on === "accept"))
          .map((a) => ({ value: a.id, label: a.name }))}
        value={config.acts}
        onChange={(next) => onChange({ ...config, acts: next })}
      />
    </>
  );
}
