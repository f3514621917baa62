"use client";
/** How many records the filter matches now, and for whom: counted while it is edited. */
import { useEffect, useRef, useState } from "react";
import type { GroupDraft } from "@/core/filter/edit";
import { type Trial, tryFilter } from "@/office/filter/filters";
import { PersonFinder } from "@/ui/forms/person-finder";

export interface Person {
  readonly as: string;
  readonly name: string;
  readonly company: string;
}

interface Props {
  portal: string;
  table: { id: string; name: string };
  filter: GroupDraft;
  /** Who may be counted for, the likeliest first; more than a list can hold are searched for instead. */
  people: readonly Person[];
  locale: string;
}

export function FilterTrial({ portal, table, filter, people, locale }: Props) {
  const [person, setPerson] = useState<Person | null>(people[0] ?? null);
  const [trial, setTrial] = useState<Trial | "failed" | null>(null);
  const as = person?.as ?? "";
  useEffect(() => {
    let stale = false;
    const timer = setTimeout(
      () =>
        tryFilter(portal, table.id, filter, as).then(
          (t) => !stale && setTrial(t),
          () => !stale && setTrial("failed"),
        ),
      300,
    );
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [portal, table.id, filter, as]);
  const n = new Intl.NumberFormat(locale);
  const name = person?.name ?? "";
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-base-300 pt-3">
      <p role="status" className="min-w-0 grow">
        {!trial ? (
          <span className="quiet">Counting…</span>
        ) : trial === "failed" ? (
          <span className="text-accent">It could not be counted just now; the next change tries again.</span>
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
      <CountedFor portal={portal} people={people} person={person} onChange={setPerson} />
    </div>
  );
}

const LONGEST_LIST = 200;

interface CountedForProps {
  portal: string;
  people: readonly Person[];
  person: Person | null;
  onChange: (p: Person | null) => void;
}

/** A list while it is short, else a search. */
function CountedFor({ portal, people, person, onChange }: CountedForProps) {
  const dialog = useRef<HTMLDialogElement>(null);
  if (people.length <= LONGEST_LIST)
    return (
      <label className="flex items-center gap-2">
        <span className="quiet">Counted for</span>
        <select
          className="select select-sm w-auto max-w-64"
          value={person?.as ?? ""}
          onChange={(e) => onChange(people.find((p) => p.as === e.target.value) ?? null)}
        >
          <option value="">nobody</option>
          {people.map((p) => (
            <option key={p.as} value={p.as}>
              {p.name}, {p.company}
            </option>
          ))}
        </select>
      </label>
    );
  return (
    <span className="flex items-center gap-2">
      <span className="quiet">Counted for</span>
      <button type="button" className="btn btn-sm max-w-64 truncate" onClick={() => dialog.current?.showModal()}>
        {person ? `${person.name}, ${person.company}` : "nobody"}
      </button>
      <PersonFinder
        dialog={dialog}
        source={`/portals/${portal}/people/named`}
        label="Count for"
        placeholder="Name, company or role"
        onChoose={(p) => {
          dialog.current?.close();
          onChange({ as: `${p.personId} ${p.membershipId ?? ""}`.trim(), name: p.name, company: p.company });
        }}
      />
    </span>
  );
}
