"use client";
/** A filter, opened in a window of its own: what is whole is kept, and what is not says so beside it. */
import { Filter } from "lucide-react";
import { useRef, useState } from "react";
import type { GroupDraft } from "@/core/filter/edit";
import type { Condition } from "@/core/schema/condition";
import { answered } from "@/ui/answered";
import { openFilter, readFilter } from "./actions";
import { FilterEditor } from "./filter-editor";
import type { PathChoice } from "./paths";

interface Props {
  portal: string;
  label: string;
  table: string;
  value: Condition | null;
  onChange: (c: Condition | null) => void;
}

/** A filter as a button with its words, which opens its editor. */
export function FilterButton({ portal, label, table, value, onChange }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  const [state, setState] = useState<{ group: GroupDraft; paths: PathChoice[] } | null>(null);
  const [problems, setProblems] = useState<Record<string, string>>({});
  const open = async (): Promise<void> => {
    const read = await answered(openFilter(portal, table, value));
    if (!read) return;
    setState(read);
    setProblems({});
    dialog.current?.showModal();
  };
  const keep = async (): Promise<void> => {
    const read = state && (await answered(readFilter(portal, table, state.group)));
    if (!read) return;
    if (!read.ok) return setProblems(Object.fromEntries(read.problems.map((p) => [p.key, p.message])));
    onChange(read.condition as Condition | null);
    dialog.current?.close();
  };
  return (
    <div className="flex items-center justify-between gap-2 text-sm">
      <span className="font-medium">{label}</span>
      <button type="button" className="btn btn-xs" onClick={open}>
        <Filter size={12} aria-hidden /> {value ? "Set" : "None"}
      </button>
      <dialog ref={dialog} className="modal" aria-label={label}>
        <div className="modal-box grid max-w-3xl gap-4">
          <h2>{label}</h2>
          {state && (
            <FilterEditor
              portal={portal}
              group={state.group}
              paths={state.paths}
              problems={problems}
              onChange={(group) => setState({ ...state, group })}
            />
          )}
          {problems[""] && <p className="field-error">{problems[""]}</p>}
          <div className="flex gap-3">
            <button type="button" className="btn btn-primary btn-sm" onClick={keep}>
              Keep the filter
            </button>
            <button type="button" className="btn btn-ghost btn-sm" onClick={() => dialog.current?.close()}>
              Cancel
            </button>
          </div>
        </div>
      </dialog>
    </div>
  );
}
