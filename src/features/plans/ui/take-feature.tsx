"use client";
import { useState } from "react";
import { doForCompany } from "../company-actions";
import { useTried } from "./try-first";

export function TakeFeature({ portal, company, given, name }: { portal: string; company: string; given: string; name: string }) {
  const [reason, setReason] = useState<string | null>(null);
  const { problem, busy, attempt } = useTried();
  if (reason === null)
    return (
      <button type="button" className="link-plain min-h-6 text-sm" onClick={() => setReason("")}>
        Take back<span className="sr-only"> {name}</span>
      </button>
    );
  return (
    <span className="flex flex-wrap items-center gap-2">
      <input
        aria-label="Why"
        placeholder="why"
        className="input input-sm"
        maxLength={200}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
      />
      <button
        type="button"
        className="btn btn-sm"
        disabled={busy}
        onClick={() =>
          attempt(
            () => doForCompany(portal, company, { act: "take feature", given, reason }),
            () => setReason(null),
          )
        }
      >
        Take it back
      </button>
      {problem && (
        <span role="alert" className="field-error">
          {problem}
        </span>
      )}
    </span>
  );
}
