"use client";
/** What can be done with one invoice: paid outside, void, or paid back in part or whole. */
import { useState } from "react";
import { doForCompany } from "../company-actions";
import { useTried } from "./try-first";
import { WithReason } from "./with-reason";

type Act = "paid outside" | "void" | "refund";
const WORDS: Record<Act, { readonly opens: string; readonly does: string }> = {
  "paid outside": { opens: "Paid outside", does: "It is paid" },
  void: { opens: "Void", does: "Make it void" },
  refund: { opens: "Pay back", does: "Pay it back" },
};

interface Props {
  portal: string;
  company: string;
  invoice: { readonly id: string; readonly number: string; readonly open: boolean };
  /** As it is written; empty where nothing can go back. */
  refundable: string;
}

export function InvoiceActs({ portal, company, invoice, refundable }: Props) {
  const [open, setOpen] = useState<Act | null>(null);
  const [x, setX] = useState({ amount: refundable, reason: "" });
  const { problem, busy, attempt } = useTried();
  const acts: Act[] = [...(invoice.open ? (["paid outside", "void"] as const) : []), ...(refundable ? (["refund"] as const) : [])];
  if (!open)
    return (
      <span className="flex flex-wrap gap-x-4">
        {acts.map((act) => (
          <button key={act} type="button" className="link-plain min-h-6 text-sm" onClick={() => setOpen(act)}>
            {WORDS[act].opens}
            <span className="sr-only"> {invoice.number}</span>
          </button>
        ))}
      </span>
    );
  return (
    <div className="flex flex-wrap items-end gap-3 py-2 text-sm whitespace-normal">
      {open === "refund" && (
        <label className="grid gap-1 font-medium">
          Amount
          <input className="input input-sm w-28" value={x.amount} onChange={(e) => setX({ ...x, amount: e.target.value })} />
        </label>
      )}
      <WithReason
        reason={x.reason}
        onReason={(reason) => setX({ ...x, reason })}
        does={WORDS[open].does}
        busy={busy}
        onDo={() =>
          attempt(
            () =>
              doForCompany(
                portal,
                company,
                open === "refund" ? { act: open, invoice: invoice.id, ...x } : { act: open, invoice: invoice.id, reason: x.reason },
              ),
            () => setOpen(null),
          )
        }
        onCancel={() => setOpen(null)}
        problem={problem}
      />
    </div>
  );
}
