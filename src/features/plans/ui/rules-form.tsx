"use client";
/** The rules of paying: whether a plan comes first, and what people are without one. */
import { useState } from "react";
import type { Billing } from "@/core/definition/parts/plans";
import { saveBilling } from "../actions";
import { useTried } from "./try-first";

interface Props {
  portal: string;
  revision: number;
  billing: Billing;
  roles: readonly { readonly id: string; readonly name: string }[];
}

export function RulesForm({ portal, revision, billing, roles }: Props) {
  const [b, setB] = useState(billing);
  const [said, setSaid] = useState("");
  const { problem, busy, attempt } = useTried();
  const change = (more: Partial<Billing>): void => {
    setSaid("");
    setB({ ...b, ...more });
  };
  return (
    <div className="sheet grid gap-5 p-5 text-sm">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={b.planFirst}
          onChange={(e) => change({ planFirst: e.target.checked })}
        />
        A plan comes first: whoever's company has none, or whose plan has lapsed, is this role alone
      </label>
      {b.planFirst && (
        <label className="grid w-fit gap-1 font-medium">
          Meanwhile they are
          <select
            className="select select-sm"
            value={b.unpaid ?? ""}
            onChange={(e) => change({ unpaid: e.target.value === "" ? null : e.target.value })}
          >
            <option value="">nothing: the plans page and their own page</option>
            {roles.map((r) => (
              <option key={r.id} value={r.id}>
                {r.name}
              </option>
            ))}
          </select>
        </label>
      )}
      {problem && (
        <p role="alert" className="field-error">
          {problem}
        </p>
      )}
      <div className="flex items-center gap-4">
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={busy}
          onClick={() =>
            attempt(
              () => saveBilling(portal, revision, b),
              () => setSaid("Kept in the draft."),
            )
          }
        >
          Keep the rules in the draft
        </button>
        <span role="status" className="quiet">
          {said}
        </span>
      </div>
    </div>
  );
}
