"use client";
/** What one company has paid for, set by hand with its reason. */
import { useState } from "react";
import { type PaidInput, setPaid } from "../actions";
import { useTried } from "./try-first";
import { WithReason } from "./with-reason";

interface Props {
  portal: string;
  company: { readonly id: string; readonly name: string };
  plans: readonly { readonly id: string; readonly name: string }[];
  now: Pick<PaidInput, "plan" | "state" | "until">;
}

const STATES = { active: "paid", trial: "on trial", grace: "in grace, unpaid", lapsed: "lapsed: the doors are shut" } as const;

export function PaidForm({ portal, company, plans, now }: Props) {
  const [open, setOpen] = useState(false);
  const [x, setX] = useState({ ...now, reason: "" });
  const { problem, busy, attempt } = useTried();
  if (!open)
    return (
      <button type="button" className="link-plain min-h-6 text-sm" onClick={() => setOpen(true)}>
        Change<span className="sr-only"> what {company.name} has paid for</span>
      </button>
    );
  return (
    <div className="flex flex-wrap items-end gap-3 py-2 text-sm whitespace-normal">
      <label className="grid gap-1 font-medium">
        Plan
        <select className="select select-sm" value={x.plan} onChange={(e) => setX({ ...x, plan: e.target.value })}>
          <option value="">none</option>
          {plans.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </label>
      {x.plan !== "" && (
        <>
          <label className="grid gap-1 font-medium">
            It is
            <select
              className="select select-sm"
              value={x.state}
              onChange={(e) => setX({ ...x, state: e.target.value as PaidInput["state"] })}
            >
              {Object.entries(STATES).map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </select>
          </label>
          <label className="grid gap-1 font-medium">
            Until
            <input type="date" className="input input-sm" value={x.until} onChange={(e) => setX({ ...x, until: e.target.value })} />
          </label>
        </>
      )}
      <WithReason
        reason={x.reason}
        onReason={(reason) => setX({ ...x, reason })}
        hint="paid by bank transfer on 3 March"
        does="Set it now"
        busy={busy}
        onDo={() =>
          attempt(
            () => setPaid(portal, { ...x, company: company.id }),
            () => setOpen(false),
          )
        }
        onCancel={() => setOpen(false)}
        problem={problem}
      />
    </div>
  );
}
