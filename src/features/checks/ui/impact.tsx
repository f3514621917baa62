import { listIn } from "@/core/text/format";
import { FramedTable } from "@/ui/framed-table";
import type { Impact as Found, Group } from "../impact";

const MOST_NAMED = 100;

const such = (names: readonly string[], n: number): string =>
  names.length === 0 ? "" : n !== names.length ? `, such as ${names.join(", ")}` : `: ${names.join(", ")}`;

/** The draft's effect in numbers, what would cross from company to company first and in words. */
export function Impact({ impact, locale }: { impact: Found; locale: string }) {
  const number = new Intl.NumberFormat(locale);
  return (
    <section aria-labelledby="impact" className="grid gap-3">
      <h2 id="impact">Impact</h2>
      {impact.across.length > 0 && (
        <div role="alert" className="rounded-box border border-accent px-5 py-4">
          <p className="font-semibold text-accent">Records would be seen across companies.</p>
          <ul className="mt-2 grid gap-1">
            {impact.across.flatMap((g) =>
              g.shifts
                .filter((s) => s.crossing > 0)
                .map((s) => (
                  <li key={`${g.where} ${g.roles} ${s.table}`}>
                    {g.where}
                    {g.roles && ` (${g.roles})`} would see {number.format(s.crossing)} of {s.name} that{" "}
                    {s.crossing === 1 ? "belongs" : "belong"} to other companies
                    {such(s.crossingNames, s.crossing)}.
                  </li>
                )),
            )}
          </ul>
        </div>
      )}
      {impact.groups.length === 0 ? (
        <p className="sheet px-5 py-4">
          {impact.active === 0
            ? "Nobody is in yet and nobody was added, so nobody sees more or less."
            : "Nobody sees more or less than before: no record and no field."}
        </p>
      ) : (
        <ImpactTable impact={impact} number={number} />
      )}
      {impact.notInYet > 0 && (
        <p className="quiet text-sm">
          {impact.notInYet === 1 ? "One person is" : `${number.format(impact.notInYet)} people are`} not in yet, and counted as if they had
          signed in.
        </p>
      )}
      {(["more", "fewer"] as const).map((how) => {
        const { people, tables } = impact.later[how];
        return (
          people > 0 && (
            <p key={how}>
              {people === 1 ? "One person who waits" : `${number.format(people)} people who wait`} for approval will see{" "}
              {how === "more" ? "more" : "less"} once they have it, of {listIn(tables, locale)}.
            </p>
          )
        );
      })}
    </section>
  );
}

/** Few people by name; more behind their number. */
function Who({ g }: { g: Group }) {
  const roles = g.roles && g.people.length > 0 ? `${g.roles}: ` : g.roles;
  return (
    <>
      <span className="block font-medium">{g.where}</span>
      {g.people.length > 2 ? (
        <details className="quiet text-sm">
          <summary className="w-fit cursor-pointer">
            {roles}
            {g.people.length} people
          </summary>
          {g.people.slice(0, MOST_NAMED).join(", ")}
          {g.people.length > MOST_NAMED && ` and ${g.people.length - MOST_NAMED} more`}
        </details>
      ) : (
        <span className="quiet block text-sm">
          {roles}
          {g.people.join(", ")}
        </span>
      )}
    </>
  );
}

/** Who gains and loses what. */
function ImpactTable({ impact, number }: { impact: Found; number: Intl.NumberFormat }) {
  return (
    <>
      <FramedTable
        columns={[
          { name: "Who" },
          { name: "Table" },
          { name: "Gain", num: true },
          { name: "Lose", num: true },
          { name: "What", className: "w-1/2" },
        ]}
      >
        {impact.groups.flatMap((g) =>
          g.shifts.map((s, i) => (
            <tr key={`${g.where} ${g.roles} ${g.people.join()} ${s.table}`}>
              <td className="whitespace-normal!">{i === 0 ? <Who g={g} /> : <span className="sr-only">{g.where}</span>}</td>
              <td data-label="Table">{s.name}</td>
              <td className="num" data-label="Gain">
                {s.gained > 0 ? `+${number.format(s.gained)}` : "0"}
              </td>
              <td className={`num ${s.lost > 0 ? "font-medium text-accent" : ""}`} data-label="Lose">
                {s.lost > 0 ? `−${number.format(s.lost)}` : "0"}
              </td>
              <td className="max-w-none! whitespace-normal!" data-label="What">
                {[
                  s.gained > 0 && `Sees ${number.format(s.gained)} more${such(s.gainedNames, s.gained)}.`,
                  s.lost > 0 && `No longer sees ${number.format(s.lost)}${such(s.lostNames, s.lost)}.`,
                  s.fieldsGained.length > 0 && `New fields: ${s.fieldsGained.join(", ")}.`,
                  s.fieldsLost.length > 0 && `Fields gone: ${s.fieldsLost.join(", ")}.`,
                ]
                  .filter(Boolean)
                  .join(" ")}
              </td>
            </tr>
          )),
        )}
      </FramedTable>
      <p className="quiet text-sm">
        {impact.more.groups > 0 &&
          `And ${number.format(impact.more.people)} people of ${number.format(impact.more.groups)} more companies and roles, touched less. `}
        {impact.untouched === 0 ? "Everybody is touched." : `${number.format(impact.untouched)} others see what they saw.`}
      </p>
    </>
  );
}
