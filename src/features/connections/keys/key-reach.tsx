"use client";
import { useState } from "react";

interface Props {
  tables: readonly { readonly id: string; readonly name: string }[];
  error: string | undefined;
}

const ACTS = [
  ["see", "See"],
  ["add", "Add"],
  ["change", "Change"],
  ["remove", "Remove"],
  ["export", "Export"],
  ["act", "Own acts"],
] as const;

/** What of its access the key is kept to. What is ticked beyond its access opens nothing. */
export function KeyReach({ tables, error }: Props) {
  const [some, setSome] = useState(true);
  return (
    <fieldset className="grid gap-3">
      <legend className="field-label">It reaches</legend>
      <div className="flex flex-wrap gap-x-6 gap-y-1">
        <label className="flex items-center gap-2">
          <input type="radio" name="reach" value="some" className="radio radio-sm" checked={some} onChange={() => setSome(true)} />
          Only what is ticked
        </label>
        <label className="flex items-center gap-2">
          <input type="radio" name="reach" value="all" className="radio radio-sm" checked={!some} onChange={() => setSome(false)} />
          All that is open to its role or person
        </label>
      </div>
      {some && (
        <div className="overflow-x-auto">
          <table className="grid-table">
            <thead>
              <tr>
                <th scope="col">Table</th>
                {ACTS.map(([act, words]) => (
                  <th key={act} scope="col" className="text-center!">
                    {words}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {tables.map((t) => (
                <tr key={t.id}>
                  <th scope="row" className="text-left font-normal">
                    {t.name}
                  </th>
                  {ACTS.map(([act, words]) => (
                    <td key={act} className="text-center!">
                      <input
                        type="checkbox"
                        name="table"
                        value={`${t.id} ${act}`}
                        className="checkbox checkbox-sm"
                        aria-label={`${words}: ${t.name}`}
                      />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className="field-error">{error}</p>
    </fieldset>
  );
}
