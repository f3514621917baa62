"use client";
import { useState } from "react";

/** A secret that is shown this once, to be copied. */
export function ShownOnce({ label, value }: { label: string; value: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <div className="flex flex-wrap gap-2">
      <input readOnly aria-label={label} className="input grow font-mono text-sm" value={value} onFocus={(e) => e.target.select()} />
      <button type="button" className="btn" onClick={() => void navigator.clipboard?.writeText(value).then(() => setCopied(true))}>
        {copied ? "Copied" : "Copy"}
      </button>
    </div>
  );
}
