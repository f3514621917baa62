"use client";
import type { Making } from "../../making";

interface Props {
  tried: Making;
  into: "people" | "companies";
  table: { name: string; singular: string };
  locale: string;
  busy: boolean;
  onMake(): void;
}

/** What would come of it: who, what leads where, and who reads more by it. */
export function MakeTrial({ tried, into, table, locale, busy, onMake }: Props) {
  const n = (x: number): string => x.toLocaleString(locale);
  const some = (x: number): string => (x === 1 ? `One ${table.singular.toLowerCase()}` : `${n(x)} ${table.name.toLowerCase()}`);
  const one = into === "people" ? "a person" : "a company";
  return (
    <section className="sheet grid gap-0 overflow-hidden" aria-label="What it does" role="status">
      <TrialResult some={some} tried={tried} one={one} into={into} table={table} n={n} />
      {tried.broken.map((s) => (
        <p key={s} className="alert alert-error mx-6 mt-4">
          A safeguard would be broken: {s}
        </p>
      ))}
      {tried.shifted.length > 0 ? (
        <div className="overflow-x-auto">
          <table className="grid-table roomy stacks">
            <thead>
              <tr>
                <th scope="col">Who</th>
                <th scope="col">Would read more</th>
                <th scope="col">Would read less</th>
              </tr>
            </thead>
            <tbody>
              {tried.shifted.map((x, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: two may be called alike
                <tr key={i}>
                  <td>
                    <span className="font-medium">{x.who}</span>
                    {x.people > 1 && ` and ${n(x.people - 1)} more`}
                    <span className="quiet block">{x.where}</span>
                  </td>
                  <td data-label="Would read more" className="max-w-80! whitespace-normal! max-sm:max-w-none!">
                    {x.more.join(", ") || "–"}
                  </td>
                  <td data-label="Would read less" className="max-w-80! whitespace-normal! max-sm:max-w-none!">
                    {x.less.join(", ") || "–"}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : (
        <p className="quiet px-6 pt-4">Nobody reads more or less by it.</p>
      )}
      <div className="px-6 py-5">
        <button
          type="button"
          className="btn btn-primary"
          disabled={busy || tried.broken.length > 0 || tried.made + tried.there.records === 0}
          onClick={onMake}
        >
          {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
          Make them {into}
        </button>
      </div>
    </section>
  );
}

interface TrialResultProps {
  readonly some: (x: number) => string;
  readonly tried: Making;
  readonly one: "a person" | "a company";
  readonly into: "people" | "companies";
  readonly table: { name: string; singular: string };
  readonly n: (x: number) => string;
}

/** What would be made, joined and left. */
function TrialResult({ some, tried, one, into, table, n }: TrialResultProps) {
  return (
    <div className="grid gap-3 border-b border-base-300 px-6 py-5">
      <h2>
        {some(tried.made)} {tried.made === 1 ? `becomes ${one}` : `become ${into}`}
      </h2>
      {tried.there.records > 0 && (
        <p>
          {some(tried.there.records)} {tried.there.records === 1 ? `is ${one}` : `are ${into}`} already: {tried.there.names.join(", ")}
          {tried.there.records > tried.there.names.length && " and others"}. What is known of them stays; what is empty is filled.
        </p>
      )}
      {tried.stays.records > 0 && (
        <div>
          <p>
            {some(tried.stays.records)} {tried.stays.records === 1 ? "stays a record" : "stay records"} of {table.name}, which the agency
            alone sees until a grant opens them:
          </p>
          <ul className="mt-1 list-disc pl-5">
            {tried.stays.which.map((x, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: two may be called alike
              <li key={i}>
                {x.name || "without a name"} <span className="quiet">{x.why}</span>
              </li>
            ))}
            {tried.stays.records > tried.stays.which.length && (
              <li className="quiet">and {n(tried.stays.records - tried.stays.which.length)} more</li>
            )}
          </ul>
        </div>
      )}
      <ul className="list-disc pl-5">
        {into === "people" && (
          <li>
            {n(tried.placed)} get a place in a company or at the agency.
            {tried.nowhere > 0 && ` ${n(tried.nowhere)} have none yet and can see nothing.`}
          </li>
        )}
        {tried.turned.length > 0 && (
          <li>
            {tried.turned.join(", ")} {tried.turned.length === 1 ? "leads" : "lead"} to {into} from then on.
          </li>
        )}
        {tried.fields.length > 0 && (
          <li>
            {into === "people" ? "People" : "Companies"} get the fields {tried.fields.join(", ")}.
          </li>
        )}
        {tried.ends > 0 && (
          <li>
            {tried.ends === 1 ? "One grant lets" : `${n(tried.ends)} grants let`} somebody add or remove such records; that ends: people
            come by invitation or by joining.
          </li>
        )}
        {tried.beside.length > 0 && <li>What points to those that stay goes on in {tried.beside.join(", ")}.</li>}
        <li>Nobody is invited by it.</li>
      </ul>
    </div>
  );
}
