"use client";
import type { HookKind } from "@/webhooks/hooks";
import { kindWords } from "./kind-words";

interface Props {
  kinds: { readonly records: readonly HookKind[]; readonly others: readonly HookKind[] };
  chosen: readonly HookKind[];
  onChange: (chosen: HookKind[]) => void;
  /** Whether the role is one of the agency's: only those are told of more than records. */
  agency: boolean;
  error: string | null;
}

export function KindsChoice({ kinds, chosen, onChange, agency, error }: Props) {
  const boxes = (list: readonly HookKind[]) => (
    <ul className="grid gap-x-6 sm:grid-cols-2 lg:grid-cols-3">
      {list.map((k) => (
        <li key={k}>
          <label className="flex items-center gap-2 py-0.5">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={chosen.includes(k)}
              onChange={(e) => onChange(e.target.checked ? [...chosen, k] : chosen.filter((x) => x !== k))}
            />
            {kindWords(k)}
          </label>
        </li>
      ))}
    </ul>
  );
  const others = chosen.filter((k) => kinds.others.includes(k)).length;
  return (
    <fieldset className="grid gap-2">
      <legend className="field-label">Events</legend>
      {boxes(kinds.records)}
      {(agency || others > 0) && (
        <details open={others > 0}>
          <summary className="link-plain cursor-pointer">Events of the portal itself, told without values</summary>
          <div className="mt-2">{boxes(kinds.others)}</div>
        </details>
      )}
      <p className="field-error">{error}</p>
    </fieldset>
  );
}
