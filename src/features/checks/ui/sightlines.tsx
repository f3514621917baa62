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
  const ready = loaded.state === "ready" ? loaded.value : null;
  const companies = ready ? companiesOf(ready) : [];
  const change = (next: Partial<Filters>): void => {
    const all = { ...f, ...next };
    setF(all);
    const q = new URLSearchParams(Object.entries(all).filter(([, v]) => v && v !== "company" && v !== "people"));
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
          <input type="search" className="input w-32" value={f.q} onChange={(e) => change({ q: e.target.value })} />
        </label>
        <Choice
          label="Company"
          value={companies.find((c) => c.label === f.company)?.value ?? f.company}
          onChange={(company) => change({ company })}
          of={companies}
        />
        <Choice label="Role" value={f.role} onChange={(role) => change({ role })} of={named(ready ? rolesOf(ready) : [])} />
        <Choice
          label="Table"
          value={f.table}
          onChange={(table) => change({ table })}
          of={named(ready ? ready.tables.map((t) => t.name) : [])}
        />
        <Either label="Grouped by" value={f.by} onChange={(by) => change({ by })} of={{ company: "Company", role: "Role" }} />
        <Either label="Lines" value={f.show} onChange={(show) => change({ show })} of={{ people: "People", groups: "Groups only" }} />
        {hasDraft && <Either label="Version" value={which} onChange={switchTo} of={{ live: "Live", draft: "Draft" }} />}
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

interface EitherProps<T extends string> {
  label: string;
  value: T;
  onChange: (v: T) => void;
  of: Readonly<Record<T, string>>;
}

function Either<T extends string>({ label, value, onChange, of }: EitherProps<T>) {
  return (
    <fieldset className="grid gap-1">
      <legend className="field-label mb-0! contents">{label}</legend>
      <span className="join">
        {(Object.entries(of) as [T, string][]).map(([v, words]) => (
          <button
            key={v}
            type="button"
            aria-pressed={value === v}
            className={`btn join-item ${value === v ? "btn-primary" : ""}`}
            onClick={() => onChange(v)}
          >
            {words}
          </button>
        ))}
      </span>
    </fieldset>
  );
}

interface Option {
  readonly value: string;
  readonly label: string;
}
const named = (names: readonly string[]): Option[] => names.map((name) => ({ value: name, label: name }));

function Choice({ label, value, onChange, of }: { label: string; value: string; onChange: (v: string) => void; of: Option[] }) {
  return (
    <label className="grid gap-1">
      <span className="field-label mb-0!">{label}</span>
      <select className="select w-40 text-ellipsis" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">All</option>
        {value && !of.some((x) => x.value === value) && <option value={value}>…</option>}
        {of.map((x) => (
          <option key={x.value} value={x.value}>
            {x.label}
          </option>
        ))}
      </select>
    </label>
  );
}
