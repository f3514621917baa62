"use client";
/** One test: a field reached from the record, a comparison that fits it, and what it is compared with. */
import { X } from "lucide-react";
import { EMPTY_OPERAND, type OperandDraft, type TestDraft } from "@/core/filter/edit";
import type { Operator } from "@/core/schema/operators";
import { FilterValue } from "./filter-value";
import type { PathChoice } from "./paths";

interface Props {
  portal: string;
  test: TestDraft;
  paths: readonly PathChoice[];
  problem: string | undefined;
  onChange: (t: TestDraft) => void;
  onRemove: () => void;
}

const GROUPS: readonly [PathChoice["group"], string][] = [
  ["people", "Leads to people or companies"],
  ["own", "Of the record itself"],
  ["far", "Of related records"],
];

export function FilterTest({ portal, test: t, paths, problem, onChange, onRemove }: Props) {
  const p = paths.find((x) => x.path.join() === t.path.join());
  const operator = p?.operators.find((o) => o.id === t.operator);
  const pick = (key: string): void => {
    const next = paths.find((x) => x.path.join() === key)!;
    const from = next.person.length > 0 && next.target !== null ? ("person" as const) : ("literal" as const);
    onChange({
      ...t,
      path: next.path,
      operator: next.operators[0]!.id,
      operands: [{ ...EMPTY_OPERAND, from, field: from === "person" ? next.person[0]!.id : null }],
    });
  };
  const compare = (to: Operator): void => {
    // A single value stays when the comparison changes; a list fits into no single value.
    const list = /of$|^has/.test(to);
    const kept = (t.operands[0] ?? EMPTY_OPERAND).values;
    const first = { ...(t.operands[0] ?? EMPTY_OPERAND), values: list ? kept : kept.slice(0, 1) };
    onChange({ ...t, operator: to, operands: to === "between" ? [first, t.operands[1] ?? EMPTY_OPERAND] : [first] });
  };
  const put = (i: number, o: OperandDraft): void =>
    onChange({ ...t, operands: t.operator === "between" ? [0, 1].map((j) => (j === i ? o : (t.operands[j] ?? EMPTY_OPERAND))) : [o] });
  const id = `problem-${t.key}`;
  return (
    <fieldset className="grid gap-1" aria-describedby={problem ? id : undefined}>
      <legend className="sr-only">A test</legend>
      <div className="flex flex-wrap items-start gap-2">
        <TestedField t={t} pick={pick} p={p} paths={paths} />
        <select
          aria-label="Comparison"
          className="select select-sm w-auto"
          value={t.operator}
          onChange={(e) => compare(e.target.value as Operator)}
        >
          {p?.operators.map((o) => (
            <option key={o.id} value={o.id}>
              {o.words}
            </option>
          ))}
        </select>
        {p && !operator?.noValue && (
          <FilterValue
            portal={portal}
            path={p}
            operator={t.operator}
            operand={t.operands[0] ?? EMPTY_OPERAND}
            onChange={(o) => put(0, o)}
          />
        )}
        {p && t.operator === "between" && (
          <>
            <span className="quiet self-center">and</span>
            <FilterValue
              portal={portal}
              path={p}
              operator={t.operator}
              operand={t.operands[1] ?? EMPTY_OPERAND}
              onChange={(o) => put(1, o)}
            />
          </>
        )}
        <button type="button" className="btn btn-ghost btn-sm btn-square" aria-label="Take this test away" onClick={onRemove}>
          <X size={14} aria-hidden />
        </button>
      </div>
      {problem && (
        <p id={id} className="field-error">
          {problem}
        </p>
      )}
    </fieldset>
  );
}

interface TestedFieldProps {
  readonly t: TestDraft;
  readonly pick: (key: string) => void;
  readonly p: PathChoice | undefined;
  readonly paths: readonly PathChoice[];
}

/** Which field is tested. */
function TestedField({ t, pick, p, paths }: TestedFieldProps) {
  return (
    <select aria-label="Field" className="select select-sm w-auto max-w-72" value={t.path.join()} onChange={(e) => pick(e.target.value)}>
      {!p && <option value={t.path.join()}>a missing field</option>}
      {GROUPS.map(([group, words]) => (
        <optgroup key={group} label={words}>
          {paths
            .filter((x) => x.group === group)
            .map((x) => (
              <option key={x.path.join()} value={x.path.join()}>
                {x.words}
              </option>
            ))}
        </optgroup>
      ))}
    </select>
  );
}
