"use client";
/** A filter as a tree: groups that say how their parts join, and tests inside them. */
import { FolderPlus, Plus, X } from "lucide-react";
import { EMPTY_OPERAND, type GroupDraft, JOINS, type OperandDraft, type TestDraft } from "@/core/filter/edit";
import { FilterTest } from "./filter-test";
import type { PathChoice } from "./paths";

const JOIN_WORDS: Record<GroupDraft["join"], string> = { all: "all of these", any: "any of these", none: "none of these" };
const BETWEEN: Record<GroupDraft["join"], string> = { all: "and", any: "or", none: "nor" };
/** As deep as the core lets filters be. */
const DEEPEST = 8;

interface Props {
  portal: string;
  group: GroupDraft;
  paths: readonly PathChoice[];
  problems: Readonly<Record<string, string>>;
  depth?: number;
  onChange: (g: GroupDraft) => void;
  onRemove?: () => void;
}

let made = 0;
const newKey = (): string => `n${++made}`;

/** What is most likely meant: the person who looks, or their company, themselves; else something that the person has. */
function nearest({ person, company }: PathChoice): Pick<OperandDraft, "from" | "field"> {
  if (person.some((f) => f.id === null)) return { from: "person", field: null };
  if (company.some((f) => f.id === null)) return { from: "company", field: null };
  return person[0] ? { from: "person", field: person[0].id } : { from: "literal", field: null };
}

const newTest = (paths: readonly PathChoice[]): TestDraft => {
  const [p] = paths;
  return {
    kind: "test",
    key: newKey(),
    path: p!.path,
    operator: p!.operators[0]!.id,
    operands: [{ ...EMPTY_OPERAND, ...nearest(p!) }],
  };
};

/** A condition being put together: tests, groups of them, and what is wrong with each. */
export function FilterEditor({ portal, group, paths, problems, depth = 1, onChange, onRemove }: Props) {
  const put = (i: number, x: TestDraft | GroupDraft): void => onChange({ ...group, of: group.of.map((y, j) => (j === i ? x : y)) });
  const drop = (i: number): void => onChange({ ...group, of: group.of.filter((_, j) => j !== i) });
  const wrong = problems[group.key];
  const body = (
    <>
      <GroupHead depth={depth} group={group} onChange={onChange} onRemove={onRemove} />
      {wrong && <p className="field-error">{wrong}</p>}
      {group.of.map((x, i) => (
        <div key={x.key} className="grid grid-cols-[2.2rem_minmax(0,1fr)] items-baseline gap-1">
          <span className="quiet text-sm">{i === 0 ? "" : BETWEEN[group.join]}</span>
          {x.kind === "group" ? (
            <FilterEditor
              portal={portal}
              group={x}
              paths={paths}
              problems={problems}
              depth={depth + 1}
              onChange={(y) => put(i, y)}
              onRemove={() => drop(i)}
            />
          ) : (
            <FilterTest
              portal={portal}
              test={x}
              paths={paths}
              problem={problems[x.key]}
              onChange={(y) => put(i, y)}
              onRemove={() => drop(i)}
            />
          )}
        </div>
      ))}
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn btn-sm" onClick={() => onChange({ ...group, of: [...group.of, newTest(paths)] })}>
          <Plus size={14} aria-hidden /> Add a test
        </button>
        {depth < DEEPEST && (
          <button
            type="button"
            className="btn btn-ghost btn-sm"
            onClick={() =>
              onChange({
                ...group,
                of: [...group.of, { kind: "group", key: newKey(), join: group.join === "any" ? "all" : "any", of: [newTest(paths)] }],
              })
            }
          >
            <FolderPlus size={14} aria-hidden /> Add a group
          </button>
        )}
      </div>
    </>
  );
  return depth === 1 ? (
    <div className="grid gap-3 [&>*]:min-w-0">{body}</div>
  ) : (
    <fieldset className="grid gap-3 rounded-box border border-base-300 border-l-3 border-l-primary/50 bg-base-200/40 p-3 [&>*]:min-w-0">
      <legend className="sr-only">A group of tests</legend>
      {body}
    </fieldset>
  );
}

interface GroupHeadProps {
  readonly depth: number;
  readonly group: GroupDraft;
  readonly onChange: (g: GroupDraft) => void;
  readonly onRemove: (() => void) | undefined;
}

/** How the tests of a group join. */
function GroupHead({ depth, group, onChange, onRemove }: GroupHeadProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <label className="flex items-center gap-2">
        <span className={depth === 1 ? "sr-only" : "quiet"}>{depth === 1 ? "How the tests join" : "where"}</span>
        <select
          className="select select-sm w-auto"
          value={group.join}
          onChange={(e) => onChange({ ...group, join: e.target.value as GroupDraft["join"] })}
        >
          {JOINS.map((j) => (
            <option key={j} value={j}>
              {JOIN_WORDS[j]}
            </option>
          ))}
        </select>
      </label>
      <span className="quiet">{group.of.length === 0 && depth === 1 ? "No test: every record inside the wall." : "hold"}</span>
      {onRemove && (
        <button type="button" className="btn btn-ghost btn-sm btn-square ml-auto" aria-label="Take this group away" onClick={onRemove}>
          <X size={14} aria-hidden />
        </button>
      )}
    </div>
  );
}
