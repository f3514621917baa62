"use client";
/** Sightlines with their filters. The address follows the filters, so that what is seen here can be shared. */
import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { useState } from "react";
import { companiesOf, type Filters, rolesOf } from "./sight-rows";
import { SightTable } from "./sight-table";
import { useMatrix } from "./use-matrix";

interface Props {
  at: string;
  which: "live" | "draft";
  hasDraft: boolean;
  locale: string;
  start: Filters;
}

export function Sightlines({ at, which, hasDraft, locale, start }: Props) {
  const loaded = useMatrix(at, which);
  const [f, setF] = useState(start);
  const router = useRouter();
  const path = usePathname();
  const search = useSearchParams();
  const ready = loaded.state === "ready" ? loaded : null;
  const change = (next: Partial<Filters>): void => {
    const all = { ...f, ...next };
    setF(all);
    const q = new URLSearchParams(Object.entries(all).filter(([, v]) => v));
    if (which === "draft") q.set("of", "draft");
    window.history.replaceState(null, "", `${path}${q.size ? `?${q}` : ""}`);
  };
  const switchTo = (of: string): void => {
    const q = new URLSearchParams(search);
    if (of === "draft") q.set("of", "draft");
    else q.delete("of");
    router.push(`${path}?${q}`);
  };
  return (
    <div className="grid gap-4 [&>*]:min-w-0">
      <div className="flex flex-wrap items-end gap-3">
        <label className="grid gap-1">
          <span className="field-label mb-0!">Name</span>
          <input type="search" className="input w-40" value={f.q} onChange={(e) => change({ q: e.target.value })} />
        </label>
        <Choice label="Company" value={f.company} onChange={(company) => change({ company })} of={ready ? companiesOf(ready) : []} />
        <Choice label="Role" value={f.role} onChange={(role) => change({ role })} of={ready ? rolesOf(ready) : []} />
        <Choice label="Table" value={f.table} onChange={(table) => change({ table })} of={ready ? ready.tables.map((t) => t.name) : []} />
        {hasDraft && (
          <fieldset className="join" aria-label="Version">
            {(["live", "draft"] as const).map((v) => (
              <button
                key={v}
                type="button"
                aria-pressed={which === v}
                className={`btn join-item ${which === v ? "btn-primary" : ""}`}
                onClick={() => switchTo(v)}
              >
                {v === "live" ? "Live" : "Draft"}
              </button>
            ))}
          </fieldset>
        )}
      </div>
      {loaded.state === "failed" && (
        <div role="alert" className="alert alert-error">
          The counts could not be loaded. Load the page again.
        </div>
      )}
      {loaded.state === "working" && (
        <div className="sheet grid gap-3 px-6 py-10" role="status">
          <p>Counting what everybody sees…</p>
          <progress className="progress progress-primary w-full max-w-md" value={loaded.done} max={loaded.of} aria-label="Counted" />
        </div>
      )}
      {ready && <SightTable at={at} which={which} matrix={ready} filters={f} locale={locale} />}
    </div>
  );
}

function Choice({ label, value, onChange, of }: { label: string; value: string; onChange: (v: string) => void; of: string[] }) {
  return (
    <label className="grid gap-1">
      <span className="field-label mb-0!">{label}</span>
      <select className="select w-56 text-ellipsis" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">All</option>
        {value && !of.includes(value) && <option>{value}</option>}
        {of.map((x) => (
          <option key={x}>{x}</option>
        ))}
      </select>
    </label>
  );
}
