"use client";
import type { PartingTrial } from "@/data/parting/parting";

/** What would come of it, in numbers. */
export function PartingTold({ trial, of, locale }: { trial: PartingTrial; of: "people" | "companies"; locale: string }) {
  const n = (x: number): string => x.toLocaleString(locale);
  const lines = [
    trial.places > 0 &&
      (of === "companies"
        ? `${n(trial.places)} ${trial.places === 1 ? "person goes" : "people go"} along.`
        : `${n(trial.places)} ${trial.places === 1 ? "place" : "places"} in companies or at the agency.`),
    ...trial.pointing.map((p) => `${p.field} of ${n(p.records)} ${p.table}`),
    trial.filled.length > 0 && `Filled from it: ${trial.filled.join(", ")}.`,
    trial.messages > 0 && `${n(trial.messages)} ${trial.messages === 1 ? "message" : "messages"} in the outbox.`,
    trial.made > 0 && `${n(trial.made)} records were made by ${trial.name}; the log goes on saying so.`,
    trial.signsIn && `${trial.name}’s own way of signing in ends.`,
  ].filter((x): x is string => typeof x === "string" && x !== "");
  return (
    <>
      <ul className="list-disc pl-5">
        {lines.map((l) => (
          <li key={l}>{l}</li>
        ))}
        {lines.length === 0 && <li>Nothing points to {trial.name}.</li>}
      </ul>
      {trial.differing.length > 0 && (
        <div className="overflow-x-auto">
          <table className="grid-table">
            <thead>
              <tr>
                <th scope="col">Field</th>
                <th scope="col">Stays</th>
                <th scope="col">Goes</th>
              </tr>
            </thead>
            <tbody>
              {trial.differing.map((d) => (
                <tr key={d.field}>
                  <td>{d.field}</td>
                  <td className="font-medium">{d.stays}</td>
                  <td className="quiet">{d.goes}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className="quiet text-sm">It can be taken back from the bin for thirty days.</p>
    </>
  );
}
