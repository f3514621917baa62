"use client";
/** One field that a rule fills in. */
import { Plus, X } from "lucide-react";
import type { Expression, Fill } from "@/core/forms/fill";
import type { Condition } from "@/core/schema/condition";
import { choosesOne, isDay, isLine, isSummed, isYesNo } from "@/core/schema/fields/natures";
import type { OfferedField, OfferedTable } from "../../../queries";
import { Choose, Row } from "../controls";
import { FilterButton } from "../filter-button";

interface FillRuleProps {
  readonly r: Fill;
  readonly field: OfferedField;
  readonly onChange: (rules: Fill[]) => void;
  readonly rules: readonly Fill[];
  readonly i: number;
  readonly put: (i: number, more: Partial<Fill>) => void;
  readonly table: OfferedTable;
  readonly lines: (next: { when: Condition; value: Expression }[]) => void;
}

/** One field that a rule fills in. */
export function FillRule({ r, field, onChange, rules, i, put, table, lines }: FillRuleProps) {
  return (
    <div className="grid gap-2 rounded-box border border-base-300 p-3">
      <div className="flex items-center justify-between gap-2">
        <span className="text-sm font-semibold">{field.name}</span>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Take the rule of ${field.name} away`}
          onClick={() => onChange(rules.filter((_, k) => k !== i))}
        >
          <X size={13} aria-hidden />
        </button>
      </div>
      <Choose
        label="When"
        value={r.while}
        options={[
          { value: "always", label: "always, whatever was written" },
          { value: "empty", label: "only while it is empty" },
        ]}
        onChange={(v) => put(i, { while: v as Fill["while"] })}
      />
      {r.lines.map((line, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other name than their place
        <div key={n} className="grid gap-2 border-l-2 border-base-300 pl-2">
          <FilterButton
            label={n === 0 ? "If" : "Else if"}
            table={table.id}
            value={line.when}
            onChange={(when) => lines(r.lines.map((x, k) => (k === n ? { ...x, when: when ?? { kind: "all", of: [] } } : x)))}
          />
          <ValueChoice
            field={field}
            table={table}
            value={line.value}
            onChange={(value) => lines(r.lines.map((x, k) => (k === n ? { ...x, value } : x)))}
          />
          <button
            type="button"
            className="link-plain min-h-6 justify-self-start text-sm"
            onClick={() => lines(r.lines.filter((_, k) => k !== n))}
          >
            Without this line
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn btn-xs justify-self-start"
        onClick={() => lines([...r.lines, { when: { kind: "all", of: [] }, value: firstValue(field) }])}
      >
        <Plus size={12} aria-hidden /> Add a line
      </button>
      <Row label="Else">
        {r.otherwise ? (
          <ValueChoice field={field} table={table} value={r.otherwise} onChange={(otherwise) => put(i, { otherwise })} />
        ) : (
          <span className="quiet text-sm">as it is</span>
        )}
        <button
          type="button"
          className="link-plain min-h-6 justify-self-start text-sm"
          onClick={() => put(i, { otherwise: r.otherwise ? null : firstValue(field) })}
        >
          {r.otherwise ? "Leave it as it is" : "Give it a value"}
        </button>
      </Row>
    </div>
  );
}

export const firstValue = (f: OfferedField): Expression => {
  if (isSummed(f)) return { kind: "literal", value: 0 };
  if (isDay(f)) return { kind: "today", anchor: "today" };
  if (isYesNo(f)) return { kind: "literal", value: true };
  return { kind: "literal", value: f.choices[0]?.id ?? "" };
};

export interface ValueProps {
  field: OfferedField;
  table: OfferedTable;
  value: Expression;
  onChange: (e: Expression) => void;
}

export function ValueChoice({ field, table, value, onChange }: ValueProps) {
  const alike = table.fields.filter((f) => f.id !== field.id && (isSummed(field) ? isSummed(f) : f.type === field.type));
  const ways = [
    { value: "literal", label: "this value" },
    ...(alike.length > 0 ? [{ value: "field", label: "what stands in" }] : []),
    ...(isSummed(field) && alike.length > 0 ? [{ value: "math", label: "worked out from" }] : []),
    ...(isDay(field) ? [{ value: "days", label: "counted from today" }] : []),
    ...(isLine(field) ? [{ value: "viewer", label: "who fills it in" }] : []),
  ];
  const way = value.kind === "today" ? "days" : value.kind;
  const begin = (v: string): Expression => {
    if (v === "field") return { kind: "field", field: alike[0]!.id };
    if (v === "math") return { kind: "math", op: "*", left: { kind: "field", field: alike[0]!.id }, right: { kind: "literal", value: 1 } };
    if (v === "days") return { kind: "days", from: { kind: "today", anchor: "today" }, days: 14 };
    return v === "viewer"
      ? { kind: "viewer", of: "person", field: "f_person_name" }
      : firstValue(isDay(field) ? { ...field, type: "text" } : field);
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      <select
        aria-label={`How ${field.name} comes by its value`}
        className="select select-xs w-auto"
        value={way}
        onChange={(e) => onChange(begin(e.target.value))}
      >
        {ways.map((w) => (
          <option key={w.value} value={w.value}>
            {w.label}
          </option>
        ))}
      </select>
      {value.kind === "literal" && <Literal field={field} value={value.value} onChange={(v) => onChange({ kind: "literal", value: v })} />}
      {value.kind === "field" && <FieldChoice fields={alike} value={value.field} onChange={(f) => onChange({ kind: "field", field: f })} />}
      {value.kind === "math" && <Sum fields={alike} value={value} onChange={onChange} />}
      {(value.kind === "days" || value.kind === "today") && (
        <label className="flex items-center gap-1 text-sm">
          <input
            type="number"
            className="input input-xs w-20"
            value={value.kind === "days" ? value.days : 0}
            onChange={(e) =>
              onChange({ kind: "days", from: { kind: "today", anchor: "today" }, days: Math.trunc(Number(e.target.value)) || 0 })
            }
          />
          days
        </label>
      )}
    </div>
  );
}

export function Literal({
  field,
  value,
  onChange,
}: {
  field: OfferedField;
  value: unknown;
  onChange: (v: string | number | boolean) => void;
}) {
  if (choosesOne(field) || isYesNo(field)) {
    const options = choosesOne(field)
      ? field.choices
      : [
          { id: "true", name: "yes" },
          { id: "false", name: "no" },
        ];
    return (
      <select
        aria-label={`Value of ${field.name}`}
        className="select select-xs w-auto"
        value={String(value)}
        onChange={(e) => onChange(choosesOne(field) ? e.target.value : e.target.value === "true")}
      >
        {options.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </select>
    );
  }
  const number = isSummed(field);
  return (
    <input
      type={number ? "number" : isDay(field) ? "date" : "text"}
      step="any"
      aria-label={`Value of ${field.name}`}
      className="input input-xs w-32"
      defaultValue={String(value)}
      onChange={(e) => onChange(number ? Number(e.target.value) || 0 : e.target.value)}
    />
  );
}

export const FieldChoice = ({
  fields,
  value,
  onChange,
}: {
  fields: readonly OfferedField[];
  value: string;
  onChange: (f: string) => void;
}) => (
  <select aria-label="Which field" className="select select-xs w-auto" value={value} onChange={(e) => onChange(e.target.value)}>
    {fields.map((f) => (
      <option key={f.id} value={f.id}>
        {f.name}
      </option>
    ))}
  </select>
);

export function Sum({
  fields,
  value,
  onChange,
}: {
  fields: readonly OfferedField[];
  value: Expression & { kind: "math" };
  onChange: (e: Expression) => void;
}) {
  const left = value.left.kind === "field" ? value.left.field : (fields[0]?.id ?? "");
  const right = value.right.kind === "literal" && typeof value.right.value === "number" ? value.right.value : 0;
  const other = value.right.kind === "field" ? value.right.field : "";
  return (
    <>
      <FieldChoice fields={fields} value={left} onChange={(f) => onChange({ ...value, left: { kind: "field", field: f } })} />
      <select
        aria-label="How"
        className="select select-xs w-auto"
        value={value.op}
        onChange={(e) => onChange({ ...value, op: e.target.value as typeof value.op })}
      >
        {["+", "-", "*", "/"].map((o) => (
          <option key={o} value={o}>
            {{ "+": "plus", "-": "less", "*": "times", "/": "divided by" }[o]}
          </option>
        ))}
      </select>
      <select
        aria-label="With what"
        className="select select-xs w-auto"
        value={other}
        onChange={(e) =>
          onChange({ ...value, right: e.target.value ? { kind: "field", field: e.target.value } : { kind: "literal", value: 1 } })
        }
      >
        <option value="">the number</option>
        {fields.map((f) => (
          <option key={f.id} value={f.id}>
            {f.name}
          </option>
        ))}
      </select>
      {other === "" && (
        <input
          type="number"
          step="any"
          aria-label="Number"
          className="input input-xs w-20"
          defaultValue={right}
          onChange={(e) => onChange({ ...value, right: { kind: "literal", value: Number(e.target.value) || 0 } })}
        />
      )}
    </>
  );
}
