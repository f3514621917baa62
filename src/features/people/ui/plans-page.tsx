import { formatMoney } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { directory } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/office-gate";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";

interface Props {
  p: OfficePortal;
  params: { slug: string };
}

export async function PlansPage({ p }: Props) {
  const d = p.live.definition;
  const { companies } = directory(p.file, p.owner, dateIn(p.now, d.portal.timeZone));
  const feature = (id: string): string => d.features.find((f) => f.id === id)?.name ?? id;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <div>
        <h1>Plans</h1>
        <p className="quiet mt-1">What companies pay for, and what each plan opens.</p>
      </div>
      {d.plans.length === 0 ? (
        <div className="sheet">
          <Empty title="No plan yet">Grants that need no feature are open to every company.</Empty>
        </div>
      ) : (
        <FramedTable
          columns={[
            { name: "Plan" },
            { name: "A month", num: true },
            { name: "A year", num: true },
            { name: "Companies", num: true },
            { name: "Opens" },
          ]}
        >
          {d.plans.map((x) => (
            <tr key={x.id}>
              <td className="font-medium">{x.name}</td>
              <td className="num" data-label="A month">
                {formatMoney(x.month, d.portal.currency, d.portal.locale)}
              </td>
              <td className="num" data-label="A year">
                {formatMoney(x.year, d.portal.currency, d.portal.locale)}
              </td>
              <td className="num" data-label="Companies">
                {companies.filter((c) => c.standing.plan?.id === x.id).length}
              </td>
              <td data-label="Opens" className="max-w-none! whitespace-normal!">
                {x.features.map(feature).join(", ")}
                {x.allowances.map((a) => `; ${a.perMonth} ${p.live.policy.schema.findTable(a.table)?.name.toLowerCase()} a month`)}
              </td>
            </tr>
          ))}
        </FramedTable>
      )}
      {d.offers.length > 0 && (
        <section aria-labelledby="offers" className="grid gap-3">
          <h2 id="offers">Once only</h2>
          <FramedTable columns={[{ name: "Offer" }, { name: "Price", num: true }, { name: "What it is", className: "w-1/2" }]}>
            {d.offers.map((o) => (
              <tr key={o.id}>
                <td className="font-medium">{o.name}</td>
                <td className="num" data-label="Price">
                  {formatMoney(o.price, d.portal.currency, d.portal.locale)}
                </td>
                <td className="max-w-none! whitespace-normal!" data-label="What it is">
                  {o.about}
                </td>
              </tr>
            ))}
          </FramedTable>
        </section>
      )}
    </div>
  );
}
