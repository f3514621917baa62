import { type PersonStatus, statusWords } from "@/core/access/who/viewer";
import { dateIn } from "@/core/time/relative";
import { directory } from "@/data/people/directory";
import { explainTable, seenCounts } from "@/data/records/query/explain";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { CheckTabs } from "@/office/ui/check-tabs";
import { count } from "@/office/words";
import { SafeForm } from "@/ui/forms/safe-form";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { seeAs } from "../actions";
import { lookAs, sentences } from "../queries";
import { PersonChoice } from "./person-choice";

interface Props {
  p: OfficePortal;
  params: { slug: string };
  search: { as?: string };
}

/** What one person sees of each table in the live version. */
export async function CheckPage({ p, search }: Props) {
  const [person, membership] = (search.as ?? "").split(" ");
  const { people } = directory(p.file, p.owner, dateIn(p.now, p.live.definition.portal.timeZone));
  const first = people.find((x) => (x.status === "active" || x.status === "invited") && x.memberships.some((m) => m.companyId));
  const looked = lookAs(p, person || first?.id, membership);
  const key = looked ? `${looked.viewer.person!.id} ${looked.membershipId ?? ""}` : "";
  const choices = people.flatMap((x) =>
    (x.memberships.length > 0 ? x.memberships : [{ id: "", company: "no company", roles: [] as string[] }]).map((m) => ({
      as: `${x.id} ${m.id}`,
      text: `${x.name}, ${m.company}${m.roles.length > 0 ? ` (${m.roles.join(", ")})` : ""}${x.status === "active" ? "" : `, ${statusWords(x.status as PersonStatus)}`}`,
    })),
  );
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <CheckTabs at={p.at} role={p.staff.role} />
      <div>
        <h1>{looked ? `What ${looked.name} ${looked.notInYet ? "will see" : "sees"}` : "One person"}</h1>
        <p className="quiet mt-1 max-w-prose">
          What one person sees of each table in the live version, counted by the same rules that answer them.
          {looked?.notInYet && " They are not in yet, and counted as if they had signed in."}
        </p>
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <form action={`${p.at}/check`}>
          <PersonChoice label="Person" value={key} choices={choices} at={p.at} />
        </form>
        {looked && (
          <SafeForm action={seeAs.bind(null, p.slug)}>
            <input type="hidden" name="person" value={looked.viewer.person!.id} />
            <input type="hidden" name="membership" value={looked.membershipId ?? ""} />
            <button type="submit" className="btn btn-primary">
              See the portal as {looked.name.split(" ")[0]}
            </button>
          </SafeForm>
        )}
      </div>
      {looked && (
        <FramedTable
          columns={[{ name: "Table" }, { name: "Sees", num: true }, { name: "Share", unseen: true, className: "w-28" }, { name: "Why" }]}
        >
          {seenCounts(p.desk, looked.viewer).map((c) => {
            const table = p.live.policy.schema.table(c.table);
            const why = c.seen > 0 ? [] : sentences(p, explainTable(p.desk, looked.viewer, c.table)).filter((s) => !s.holds);
            return (
              <tr key={c.table}>
                <td className="font-medium">{table.name}</td>
                <td className="num" data-label="">
                  <Link className="link-plain" href={`${p.at}/check/${table.slug}?as=${encodeURIComponent(key)}`}>
                    sees {count(p, c.seen)} of {count(p, c.all)}
                  </Link>
                </td>
                <td>
                  <span aria-hidden className="mt-2 block h-1.5 w-24 rounded bg-base-300">
                    <span
                      className="block h-full rounded bg-primary"
                      style={{ width: `${c.all ? Math.max(c.seen ? 3 : 0, (100 * c.seen) / c.all) : 0}%` }}
                    />
                  </span>
                </td>
                <td className="max-w-none! whitespace-normal!">
                  {why.map((s) => s.text).join(" ")}
                  {c.seen === 0 && why.length === 0 && "No record fits the grants that count."}
                </td>
              </tr>
            );
          })}
        </FramedTable>
      )}
    </div>
  );
}
