"use client";
/** How many records the filter matches now, and for whom: counted while it is edited. */
import { useEffect, useState } from "react";
import type { GroupDraft } from "@/core/filter/edit";
import { type Trial, tryFilter } from "../filters";

export interface Person {
  readonly as: string;
  readonly name: string;
  readonly company: string;
}

interface Props {
  portal: string;
  table: { id: string; name: string };
  filter: GroupDraft;
  people: readonly Person[];
  locale: string;
}

export function FilterTrial({ portal, table, filter, people, locale }: Props) {
  const [as, setAs] = useState(people[0]?.as ?? "");
  const [trial, setTrial] = useState<Trial | null>(null);
  useEffect(() => {
    let stale = false;
    const timer = setTimeout(
      () =>
        tryFilter(portal, table.id, filter, as).then(
          (t) => !stale && setTrial(t),
          () => !stale && setTrial(null),
        ),
      300,
    );
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [portal, table.id, filter, as]);
  const n = new Intl.NumberFormat(locale);
  const name = people.find((p) => p.as === as)?.name ?? "";
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-base-300 pt-3">
      <p role="status" className="min-w-0 grow">
        {!trial ? (
          <span className="quiet">Counting…</span>
        ) : !trial.ok ? (
          <span className="quiet">Counted when every test is whole.</span>
        ) : (
          <>
            {trial.matches === null ? (
              <span className="quiet">Choose a person to count for. </span>
            ) : (
              <>
                Matches <strong className="num font-semibold">{n.format(trial.matches)}</strong> of {n.format(trial.all)} {table.name}
                {trial.forPerson === null && "."}
              </>
            )}
            {trial.forPerson !== null && (
              <>
                ; inside the wall, for {name}, <strong className="num font-semibold">{n.format(trial.forPerson)}</strong>.
              </>
            )}
          </>
        )}
      </p>
      <label className="flex items-center gap-2">
        <span className="quiet">Counted for</span>
        <select className="select select-sm w-auto max-w-64" value={as} onChange={(e) => setAs(e.target.value)}>
          <option value="">nobody</option>
          {people.map((p) => (
            <option key={p.as} value={p.as}>
              {p.name}, {p.company}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
