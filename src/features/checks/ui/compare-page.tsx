import { notFound } from "next/navigation";
import { compareOn } from "@/data/records/counting/before-and-after";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { CheckTabs } from "@/office/ui/check-tabs";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { lookAs } from "../queries";

interface Props {
  p: OfficePortal;
  params: { slug: string };
  search: { one?: string; other?: string };
}

/** Two people side by side: what each sees of every table. */
export async function ComparePage({ p, search }: Props) {
  const { one = "", other = "" } = search;
  const [a, b] = [one, other].map((as) => lookAs(p, ...(as.split(" ") as [string, string?])));
  if (!a || !b) notFound();
  const number = new Intl.NumberFormat(p.live.definition.portal.locale);
  const only = (names: readonly string[]): string => names.join(", ") || "none";
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <CheckTabs at={p.at} role={p.staff.role} />
      <div>
        <h1>
          {a.name} beside {b.name}
        </h1>
        <p className="quiet mt-1">
          {a.name}: {a.as}. {b.name}: {b.as}.{" "}
          {(a.notInYet || b.notInYet) && "People who are not in yet are counted as if they had signed in."}
        </p>
      </div>
      <FramedTable
        columns={[
          { name: "Table" },
          { name: a.name, num: true },
          { name: b.name, num: true },
          { name: "Both see", num: true },
          { name: "Fields one of them alone sees" },
        ]}
      >
        {p.live.policy.schema.tables.map((t) => {
          const c = compareOn(p.file, p.live.policy, p.owner, a.viewer, b.viewer, t.id);
          const cell = (as: string, n: number) => (
            <Link className="link-plain" href={`${p.at}/check/${t.slug}?${new URLSearchParams({ as, show: n > 0 ? "seen" : "all" })}`}>
              {number.format(n)}
            </Link>
          );
          const differ = c.fieldsOfOne.length + c.fieldsOfOther.length > 0;
          return (
            <tr key={t.id}>
              <td className="font-medium">{t.name}</td>
              <td className="num" data-label={a.name}>
                {cell(one, c.one)}
              </td>
              <td className="num" data-label={b.name}>
                {cell(other, c.other)}
              </td>
              <td className="num" data-label="Both see">
                {number.format(c.both)}
              </td>
              <td className="max-w-none! whitespace-normal!" data-label="Fields">
                {differ ? (
                  `${a.name}: ${only(c.fieldsOfOne)}. ${b.name}: ${only(c.fieldsOfOther)}.`
                ) : (
                  <span className="quiet">the same</span>
                )}
              </td>
            </tr>
          );
        })}
      </FramedTable>
      <p>
        <Link className="link-plain" href={`${p.at}/sightlines`}>
          Back to everybody
        </Link>
      </p>
    </div>
  );
}
