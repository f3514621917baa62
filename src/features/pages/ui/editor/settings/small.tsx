"use client";
/** Kinds with few settings. */
import { Plus, X } from "lucide-react";
import type { SectionOf } from "@/core/pages/page";
import type { LinkTarget } from "@/core/sections/links";
import { NOTICE_TONES } from "@/core/sections/small";
import { type SettingsProps, useOffered } from "../around";
import { Check, Choose, Several, Words } from "../controls";
import { AddressBox } from "./address-box";

export function NoticePanel({ section, onChange }: SettingsProps<SectionOf<"notice">>) {
  const { config } = section;
  const day = (label: string, key: "from" | "until") => (
    <label className="grid gap-1 text-sm font-medium">
      {label}
      <input
        type="date"
        className="input input-sm w-full"
        value={config[key] ?? ""}
        onChange={(e) => onChange({ ...config, [key]: e.target.value || null })}
      />
    </label>
  );
  return (
    <>
      <Words label="Sentence" lines={3} value={config.words} onChange={(words) => onChange({ ...config, words })} />
      <Choose
        label="Tone"
        value={config.tone}
        options={NOTICE_TONES.map((t) => ({
          value: t,
          label: { plain: "Plain", good: "Good news", warning: "Take care", trouble: "Trouble" }[t],
        }))}
        onChange={(v) => onChange({ ...config, tone: v as (typeof NOTICE_TONES)[number] })}
      />
      <div className="grid grid-cols-2 gap-2">
        {day("From", "from")}
        {day("Until", "until")}
      </div>
      <Check
        label="Whoever has read it may put it away"
        value={config.dismissible}
        onChange={(dismissible) => onChange({ ...config, dismissible })}
      />
    </>
  );
}

export function DoorPanel({ section, onChange }: SettingsProps<SectionOf<"door">>) {
  return (
    <Check label="With the way to join, where joining is open" value={section.config.joins} onChange={(joins) => onChange({ joins })} />
  );
}

export function HistoryPanel({ section, onChange }: SettingsProps<SectionOf<"history">>) {
  const { about } = useOffered();
  return (
    <Several
      label="Only these fields"
      none="all that the reader sees"
      options={(about?.fields ?? []).map((f) => ({ value: f.id, label: f.name }))}
      value={section.config.fields ?? []}
      onChange={(fields) => onChange({ fields: fields.length > 0 ? fields : null })}
    />
  );
}

export function SearchPanel({ section, onChange }: SettingsProps<SectionOf<"search">>) {
  const { tables } = useOffered();
  return (
    <Several
      label="Only in"
      none="everything the reader sees"
      options={tables.map((t) => ({ value: t.id, label: t.name }))}
      value={section.config.tables ?? []}
      onChange={(next) => onChange({ tables: next.length > 0 ? next : null })}
    />
  );
}

export function LinksPanel({ section, onChange }: SettingsProps<SectionOf<"links">>) {
  const { tables, pages, about } = useOffered();
  const { config } = section;
  const put = (i: number, more: Partial<(typeof config.items)[number]>): void =>
    onChange({ ...config, items: config.items.map((x, k) => (k === i ? { ...x, ...more } : x)) });
  const reachable = pages.filter((p) => p.about === null || p.about === about?.id);
  return (
    <div className="grid gap-3">
      <Choose
        label="Look"
        value={config.look}
        options={[
          { value: "buttons", label: "Buttons" },
          { value: "cards", label: "Cards, with a line each" },
        ]}
        onChange={(v) => onChange({ ...config, look: v as "buttons" | "cards" })}
      />
      {config.items.map((x, i) => (
        <fieldset key={x.id} className="grid gap-2 rounded-box border border-base-300 p-3">
          <legend className="sr-only">{x.name}</legend>
          <div className="flex items-end gap-2">
            <div className="grow">
              <Words label="Called" value={x.name} onChange={(name) => put(i, { name })} />
            </div>
            <button
              type="button"
              className="btn btn-ghost btn-sm btn-square"
              aria-label={`Take ${x.name} away`}
              onClick={() => onChange({ ...config, items: config.items.filter((_, k) => k !== i) })}
            >
              <X size={14} aria-hidden />
            </button>
          </div>
          {config.look === "cards" && (
            <Words label="Line below" value={x.about ?? ""} onChange={(v) => put(i, { about: v || undefined })} />
          )}
          <Choose
            label="Leads to"
            value={x.target.to === "page" ? `page ${x.target.page}` : x.target.to === "form" ? `form ${x.target.table}` : "address"}
            options={[
              ...reachable.map((p) => ({ value: `page ${p.id}`, label: `the page ${p.name}` })),
              ...tables.map((t) => ({ value: `form ${t.id}`, label: `the form for a new ${t.singular.toLowerCase()}` })),
              { value: "address", label: "an address outside" },
            ]}
            onChange={(v) => put(i, { target: targetOf(v) })}
          />
          {x.target.to === "address" && (
            <AddressBox
              value={x.target.address}
              fields={about?.fields ?? []}
              onChange={(address) => put(i, { target: { to: "address", address } })}
            />
          )}
        </fieldset>
      ))}
      {config.items.length < 24 && (
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => {
            const n = 1 + Math.max(0, ...config.items.map((x) => Number(x.id.replace(/\D/g, "")) || 0));
            const [page] = reachable;
            onChange({
              ...config,
              items: [...config.items, { id: `l${n}`, name: page?.name ?? "A link", target: { to: "page", page: page?.id ?? "home" } }],
            });
          }}
        >
          <Plus size={14} aria-hidden /> Add a link
        </button>
      )}
    </div>
  );
}

function targetOf(v: string): LinkTarget {
  const [to, id = ""] = v.split(" ");
  if (to === "page") return { to: "page", page: id };
  return to === "form" ? { to: "form", table: id } : { to: "address", address: ["https://example.org/"] };
}
