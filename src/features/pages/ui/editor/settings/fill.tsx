"use client";
import type { Fill } from "@/core/forms/fill";
import { choosesOne, holdsEmail, holdsTelephone, isDay, isFreeText, isSummed, isYesNo } from "@/core/schema/fields/natures";
import type { OfferedField, OfferedTable } from "../../../queries";
import { FillRule, firstValue } from "./fill-rule";

interface Props {
  rules: readonly Fill[];
  table: OfferedTable;
  onChange: (rules: Fill[]) => void;
}

/** What a rule may fill in: what it can write down, and no more. */
const isFilled = (f: OfferedField): boolean =>
  isSummed(f) || isFreeText(f) || choosesOne(f) || isYesNo(f) || isDay(f) || holdsEmail(f) || holdsTelephone(f);

export function FillRules({ rules, table, onChange }: Props) {
  const fillable = table.fields.filter((f) => isFilled(f));
  const free = fillable.filter((f) => !rules.some((r) => r.field === f.id));
  const put = (i: number, more: Partial<Fill>): void => onChange(rules.map((r, k) => (k === i ? { ...r, ...more } : r)));
  return (
    <fieldset className="grid gap-2">
      <legend className="text-sm font-medium">Filled in by itself</legend>
      {rules.map((r, i) => {
        const field = table.fields.find((f) => f.id === r.field);
        if (!field) return null;
        const lines = (next: Fill["lines"]): void => put(i, { lines: next });
        return <FillRule key={r.id} r={r} field={field} onChange={onChange} rules={rules} i={i} put={put} table={table} lines={lines} />;
      })}
      {free.length > 0 && (
        <select
          aria-label="Fill a field in by a rule"
          className="select select-sm w-full"
          value=""
          onChange={(e) => {
            const field = table.fields.find((f) => f.id === e.target.value)!;
            onChange([...rules, { id: `r-${field.id}`, field: field.id, while: "empty", lines: [], otherwise: firstValue(field) }]);
          }}
        >
          <option value="">Fill a field in by a rule…</option>
          {free.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      )}
    </fieldset>
  );
}
