"use client";
import { Plus, X } from "lucide-react";
import type { SectionOf } from "@/core/pages/page";
import { isDated, isGrouped, isSummed } from "@/core/schema/fields/natures";
import { MEASURES, type Measure } from "@/core/sections/measure";
import type { OfferedTable } from "../../../queries";
import { type SettingsProps, useOffered } from "../around";
import { Choose, Words } from "../controls";
import { FilterButton } from "../filter-button";

const WORDS: Record<Measure, string> = {
  count: "how many",
  sum: "the sum of",
  average: "the average of",
  least: "the least",
  most: "the most",
};
const numbers = (t: OfferedTable | undefined) => (t?.fields ?? []).filter((f) => isSummed(f));

export function MeasureChoice({
  table,
  measure,
  of,
  onChange,
}: {
  table: OfferedTable | undefined;
  measure: Measure;
  of: string | null;
  onChange: (m: { measure: Measure; of: string | null }) => void;
}) {
  const fields = numbers(table);
  return (
    <div className="grid grid-cols-2 gap-2">
      <Choose
        label="Shows"
        value={measure}
        options={MEASURES.filter((m) => m === "count" || fields.length > 0).map((m) => ({ value: m, label: WORDS[m] }))}
        onChange={(v) => onChange({ measure: v as Measure, of: v === "count" ? null : (of ?? fields[0]?.id ?? null) })}
      />
      {measure !== "count" && (
        <Choose
          label="Number"
          value={of ?? ""}
          options={fields.map((f) => ({ value: f.id, label: f.name }))}
          onChange={(v) => onChange({ measure, of: v })}
        />
      )}
    </div>
  );
}

export function FiguresPanel({ section, onChange }: SettingsProps<SectionOf<"figures">>) {
  const { tables } = useOffered();
  const { items } = section.config;
  type Item = (typeof items)[number];
  const put = (i: number, more: Partial<Item>): void => onChange({ items: items.map((x, k) => (k === i ? { ...x, ...more } : x)) });
  return (
    <div className="grid gap-3">
      {items.map((x, i) => {
        const table = tables.find((t) => t.id === x.source.table);
        const dates = (table?.fields ?? []).filter((f) => isDated(f));
        return (
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
                onClick={() => onChange({ items: items.filter((_, k) => k !== i) })}
              >
                <X size={14} aria-hidden />
              </button>
            </div>
            <Choose
              label="Of"
              value={x.source.table}
              options={tables.map((t) => ({ value: t.id, label: t.name }))}
              onChange={(id) => put(i, { source: { table: id, filter: null, sort: [] }, measure: "count", of: null, monthly: null })}
            />
            <MeasureChoice table={table} measure={x.measure} of={x.of} onChange={(m) => put(i, m)} />
            <FilterButton
              label="Only those"
              table={x.source.table}
              value={x.source.filter}
              onChange={(filter) => put(i, { source: { ...x.source, filter } })}
            />
            {dates.length > 0 && (
              <Choose
                label="This month beside the one before, by"
                value={x.monthly ?? ""}
                options={[{ value: "", label: "not" }, ...dates.map((f) => ({ value: f.id, label: f.name }))]}
                onChange={(v) => put(i, { monthly: v || null })}
              />
            )}
          </fieldset>
        );
      })}
      {items.length < 12 && tables[0] && (
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => {
            const n = 1 + Math.max(0, ...items.map((x) => Number(x.id.replace(/\D/g, "")) || 0));
            const [t] = tables;
            onChange({
              items: [
                ...items,
                { id: `f${n}`, name: t!.name, source: { table: t!.id, filter: null, sort: [] }, measure: "count", of: null, monthly: null },
              ],
            });
          }}
        >
          <Plus size={14} aria-hidden /> Add a figure
        </button>
      )}
    </div>
  );
}

export function ChartPanel({ section, onChange }: SettingsProps<SectionOf<"chart">>) {
  const { tables } = useOffered();
  const { config } = section;
  const table = tables.find((t) => t.id === config.source.table);
  const groups = (t: OfferedTable | undefined) => (t?.fields ?? []).filter((f) => isGrouped(f));
  return (
    <>
      <Choose
        label="Records of"
        value={config.source.table}
        options={tables.filter((t) => groups(t).length > 0).map((t) => ({ value: t.id, label: t.name }))}
        onChange={(id) => {
          const [by] = groups(tables.find((t) => t.id === id));
          if (by) onChange({ ...config, source: { table: id, filter: null, sort: [] }, by: by.id, measure: "count", of: null });
        }}
      />
      <Choose
        label="Grouped by"
        value={config.by}
        options={groups(table).map((f) => ({ value: f.id, label: f.name }))}
        onChange={(by) => onChange({ ...config, by })}
      />
      <MeasureChoice table={table} measure={config.measure} of={config.of} onChange={(m) => onChange({ ...config, ...m })} />
      <Choose
        label="Drawn as"
        value={config.shape}
        options={[
          { value: "bars", label: "bars" },
          { value: "lines", label: "a line" },
          { value: "share", label: "shares of the whole" },
        ]}
        onChange={(v) => onChange({ ...config, shape: v as "bars" | "lines" | "share" })}
      />
      <FilterButton
        label="Only those"
        table={config.source.table}
        value={config.source.filter}
        onChange={(filter) => onChange({ ...config, source: { ...config.source, filter } })}
      />
    </>
  );
}
