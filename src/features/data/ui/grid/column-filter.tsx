"use client";
/** One column compared with something: how, and with what its type takes. */
import { type Dispatch, type SetStateAction, useEffect, useState } from "react";
import { isRelation } from "@/core/schema/fields/natures";
import type { Offered } from "@/core/schema/offered";
import { type Operator, takesList, takesNoValue } from "@/core/schema/operators";
import { type Field, kindOf, operatorWords } from "@/core/schema/types";
import { LOOKS } from "@/ui/forms/fields";
import { RecordPicker } from "@/ui/forms/record-picker";
import { relationChoices, relationNames } from "../../actions";

interface Props {
  portal: string;
  field: Field;
  operator: Operator | null;
  texts: readonly string[];
  onApply: (operator: Operator, texts: string[]) => void;
  onClear: () => void;
  onLeave: () => void;
}

export function ColumnFilter({ portal, field, operator, texts, onApply, onClear, onLeave }: Props) {
  const kind = kindOf(field);
  const [op, setOp] = useState<Operator>(operator ?? kind.operators[0]!);
  const [values, setValues] = useState<string[]>([...texts]);
  const choices = kind.offers?.(field);
  const relation = isRelation(field);
  const [chosen, setChosen] = useState<readonly Offered[]>([]);
  const named = relation ? texts.filter((t) => t !== "").join("\n") : "";
  useEffect(() => {
    if (named) relationNames(portal, field.id, named.split("\n")).then(setChosen, () => {});
  }, [named, portal, field.id]);
  const look = LOOKS[field.type];
  const type = look.input === "date" || look.input === "datetime-local" ? look.input : "text";
  const box = (i: number) => (
    <input
      aria-label={i === 0 ? "Value" : "Other value"}
      className="input input-sm w-full"
      type={type}
      inputMode={look.keys}
      value={values[i] ?? ""}
      onChange={(e) => setValues((all) => (i === 0 ? [e.target.value, ...all.slice(1)] : [all[0] ?? "", e.target.value]))}
    />
  );
  return (
    <form
      className="sheet absolute top-full left-0 z-20 mt-1 grid w-64 gap-2 p-3 text-left font-normal whitespace-normal shadow-lg"
      aria-label={`Filter by ${field.name}`}
      onSubmit={(e) => {
        e.preventDefault();
        onApply(op, takesNoValue(op) ? [] : values.filter((v) => v !== ""));
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") onLeave();
        e.stopPropagation();
      }}
    >
      <select aria-label="Comparison" className="select select-sm w-full" value={op} onChange={(e) => setOp(e.target.value as Operator)}>
        {kind.operators.map((o) => (
          <option key={o} value={o}>
            {operatorWords(o, field.type)}
          </option>
        ))}
      </select>
      {!takesNoValue(op) &&
        (choices ? (
          <ValueChoice op={op} values={values} setValues={setValues} choices={choices} />
        ) : relation ? (
          <RecordPicker
            label="Value"
            many={takesList(op)}
            small
            chosen={chosen}
            find={(words) => relationChoices(portal, field.id, words)}
            onChange={(now) => {
              setChosen(now);
              setValues(now.map((c) => c.value));
            }}
          />
        ) : takesList(op) ? (
          <textarea
            aria-label="Values, one on each line"
            className="textarea textarea-sm w-full"
            rows={3}
            value={values.join("\n")}
            onChange={(e) => setValues(e.target.value.split("\n"))}
          />
        ) : (
          <>
            {box(0)}
            {op === "between" && box(1)}
          </>
        ))}
      <FilterButtons operator={operator} onClear={onClear} onLeave={onLeave} />
    </form>
  );
}

interface FilterButtonsProps {
  readonly operator: Operator | null;
  readonly onClear: () => void;
  readonly onLeave: () => void;
}

/** Show, clear, or leave it. */
function FilterButtons({ operator, onClear, onLeave }: FilterButtonsProps) {
  return (
    <div className="flex gap-2">
      <button type="submit" className="btn btn-primary btn-xs">
        Show these
      </button>
      {operator && (
        <button type="button" className="btn btn-ghost btn-xs" onClick={onClear}>
          No filter
        </button>
      )}
      <button type="button" className="btn btn-ghost btn-xs ml-auto" onClick={onLeave}>
        Close
      </button>
    </div>
  );
}

interface ValueChoiceProps {
  readonly op: Operator;
  readonly values: string[];
  readonly setValues: Dispatch<SetStateAction<string[]>>;
  readonly choices: readonly Offered[];
}

/** Which values are meant. */
function ValueChoice({ op, values, setValues, choices }: ValueChoiceProps) {
  return (
    <select
      aria-label="Value"
      className="select select-sm w-full"
      multiple={takesList(op)}
      value={takesList(op) ? values : (values[0] ?? "")}
      onChange={(e) => setValues([...e.target.selectedOptions].map((o) => o.value))}
    >
      {!takesList(op) && <option value="">choose…</option>}
      {choices.map((c) => (
        <option key={c.value} value={c.value}>
          {c.label}
        </option>
      ))}
    </select>
  );
}
