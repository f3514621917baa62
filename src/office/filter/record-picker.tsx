"use client";
/** Records chosen by name. What is kept is their ids; what is shown is their names. */
import { X } from "lucide-react";
import { useEffect, useId, useState } from "react";
import { type Named, namesOfRecords, recordsNamed } from "./filters";

interface Props {
  portal: string;
  table: string;
  many: boolean;
  ids: readonly string[];
  onChange: (ids: string[]) => void;
  /** Fills the column it stands in, as its neighbours do. */
  wide?: boolean;
}

export function RecordPicker({ portal, table, many, ids, onChange, wide = false }: Props) {
  const [names, setNames] = useState<Record<string, string>>({});
  const [words, setWords] = useState("");
  const [found, setFound] = useState<Named[] | "failed" | null>(null);
  const box = useId();
  const unknown = ids.filter((id) => !(id in names)).join("\n");
  useEffect(() => {
    if (!unknown) return;
    namesOfRecords(portal, table, unknown.split("\n")).then(
      (list) => setNames((n) => ({ ...n, ...Object.fromEntries(list.map((x) => [x.id, x.label])) })),
      () => setFound("failed"),
    );
  }, [portal, table, unknown]);
  useEffect(() => {
    if (!words.trim()) return setFound(null);
    let stale = false;
    const tell = (answer: Named[] | "failed"): void => {
      if (!stale) setFound(answer);
    };
    const ask = (): Promise<void> => recordsNamed(portal, table, words).then(tell, () => tell("failed"));
    const timer = setTimeout(ask, 200);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [portal, table, words]);
  const choose = (x: Named): void => {
    setNames({ ...names, [x.id]: x.label });
    onChange(many ? [...ids.filter((id) => id !== x.id), x.id] : [x.id]);
    setWords("");
  };
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      {ids.map((id) => (
        <span key={id} className="tag inline-flex items-center gap-1">
          {names[id] ?? "…"}
          <button type="button" aria-label={`Take ${names[id] ?? "it"} away`} onClick={() => onChange(ids.filter((x) => x !== id))}>
            <X size={12} aria-hidden />
          </button>
        </span>
      ))}
      {(many || ids.length === 0) && (
        <span className={wide ? "relative w-full" : "relative"}>
          <input
            className={wide ? "input w-full" : "input input-sm w-44"}
            aria-label="Find a record by name"
            placeholder="Find by name"
            value={words}
            aria-controls={box}
            onChange={(e) => setWords(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Escape") setWords("");
              if (e.key !== "Enter") return;
              e.preventDefault();
              if (found && found !== "failed" && found[0]) choose(found[0]);
            }}
          />
          <span id={box} aria-live="polite">
            {found === "failed" && (
              <span className="field-error block">No answer came. You may be signed out or offline; type on to try again.</span>
            )}
            {found && found !== "failed" && (
              <ul className="absolute top-full left-0 z-20 mt-1 max-h-64 w-64 overflow-y-auto rounded-box border border-base-300 bg-base-100 py-1 shadow-lg">
                {found.length === 0 && <li className="quiet px-3 py-1.5">Nothing is called that.</li>}
                {found.map((x) => (
                  <li key={x.id}>
                    <button type="button" className="w-full truncate px-3 py-1.5 text-left hover:bg-base-200" onClick={() => choose(x)}>
                      {x.label}
                    </button>
                  </li>
                ))}
              </ul>
            )}
          </span>
        </span>
      )}
    </span>
  );
}
