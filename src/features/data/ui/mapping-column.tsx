"use client";
/** One column of a file: where it goes, and as what. */
import { IMPORTABLE, type ImportPlan } from "@/core/exchange/import-plan";
import { type FieldType, kindOf } from "@/core/schema/types";

export interface MappingColumn {
  name: string;
  sample: string[];
  guess: { type: FieldType; dateOrder: "iso" | "day-first" | "month-first"; choices: string[]; decimals: number; filled: number };
}
export interface MappingTable {
  id: string;
  name: string;
  fields: { id: string; name: string; type: FieldType; toCompany: boolean }[];
}

export type Column = ImportPlan["columns"][number];

export const fresh = (c: MappingColumn): Column => ({
  to: "new",
  name: c.name,
  type: c.guess.type as never,
  order: c.guess.dateOrder,
  choices: c.guess.choices,
  decimals: c.guess.decimals,
});

export function Goes({
  column,
  value,
  table,
  onChange,
}: {
  column: MappingColumn;
  value: Column;
  table: MappingTable | undefined;
  onChange: (c: Column) => void;
}) {
  const key = value.to === "field" ? value.field : value.to;
  return (
    <div className="flex gap-2">
      <select
        aria-label={`Where ${column.name} goes`}
        className="select select-sm w-36"
        value={key}
        onChange={(e) =>
          onChange(
            e.target.value === "skip"
              ? { to: "skip" }
              : e.target.value === "new"
                ? fresh(column)
                : { to: "field", field: e.target.value, order: column.guess.dateOrder },
          )
        }
      >
        <option value="new">A new field</option>
        {table?.fields.map((f) => (
          <option key={f.id} value={f.id}>
            {f.name}
          </option>
        ))}
        <option value="skip">Leave it out</option>
      </select>
      {value.to === "new" && (
        <input
          aria-label={`Name of the field for ${column.name}`}
          className="input input-sm w-32"
          value={value.name}
          onChange={(e) => onChange({ ...value, name: e.target.value })}
        />
      )}
    </div>
  );
}

interface AsProps {
  column: MappingColumn;
  value: Column;
  names: boolean;
  table: MappingTable | undefined;
  targets: { id: string; name: string }[];
  onChange: (c: Column) => void;
}

export function As({ column, value, names, table, targets, onChange }: AsProps) {
  if (value.to === "skip") return <span className="quiet">left out</span>;
  if (names) return <span className="font-medium">The company</span>;
  const type = value.to === "field" ? (table?.fields.find((f) => f.id === value.field)?.type ?? "text") : value.type;
  return (
    <div className="flex gap-2">
      {value.to === "field" ? (
        <span className="py-1">{kindOf({ type }).name}</span>
      ) : (
        <select
          aria-label={`Type of ${column.name}`}
          className="select select-sm w-48"
          value={value.type}
          onChange={(e) => onChange({ ...value, type: e.target.value as never, choices: column.guess.choices })}
        >
          {IMPORTABLE.map((t) => (
            <option key={t} value={t}>
              {kindOf({ type: t }).name}
              {t === column.guess.type ? " (guessed)" : ""}
            </option>
          ))}
        </select>
      )}
      {type === "date" && (
        <select
          aria-label={`How ${column.name} is written`}
          className="select select-sm w-40"
          value={value.order}
          onChange={(e) => onChange({ ...value, order: e.target.value as never })}
        >
          <option value="iso">year-month-day</option>
          <option value="day-first">day/month/year</option>
          <option value="month-first">month/day/year</option>
        </select>
      )}
      {value.to === "new" && value.type === "relation" && (
        <select
          aria-label={`What ${column.name} points to`}
          className="select select-sm w-40"
          value={value.target ?? ""}
          onChange={(e) => onChange({ ...value, target: e.target.value })}
        >
          <option value="">Points to…</option>
          {targets.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}
