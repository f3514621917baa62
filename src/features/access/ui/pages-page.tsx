import type { OfficePortal } from "@/identity/office-gate";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { accessView } from "../queries";

interface Props {
  p: OfficePortal;
  params: { slug: string };
}

/** Pages follow from the grants for now: a home, a list and a record sheet for each table that a role may see. */
export async function PagesPage({ p }: Props) {
  const v = accessView(p);
  const rows = v.schema.tables.flatMap((t) => {
    const grants = v.definition.grants.filter((g) => g.table === t.id && g.actions.includes("see"));
    const names = (side: string): string =>
      [...new Set(grants.flatMap((g) => g.roles))].flatMap((r) => ((x) => (x?.side === side ? [x.name] : []))(v.policy.role(r))).join(", ");
    return grants.length > 0
      ? [
          {
            table: t,
            clients: [names("client"), names("visitor")].filter(Boolean).join(", "),
            agency: names("agency"),
            adds: v.definition.grants.some((g) => g.table === t.id && g.actions.includes("add")),
          },
        ]
      : [];
  });
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <div>
        <h1>Pages</h1>
        <p className="quiet mt-1 max-w-prose">
          Each table that a grant opens has a list and a record sheet in the portal, and a form where a grant lets records be added.
          Accounts lands on the home page.
        </p>
      </div>
      {rows.length === 0 ? (
        <div className="sheet">
          <Empty title="No page yet">Open a table to a role under Access, and its pages stand here.</Empty>
        </div>
      ) : (
        <FramedTable columns={[{ name: "Page" }, { name: "Address" }, { name: "Clients who see it" }, { name: "Agency roles" }]}>
          {rows.map((r) => (
            <tr key={r.table.id}>
              <td className="font-medium">
                <span>
                  {r.table.name}
                  {r.adds && <span className="quiet font-normal">, with a form</span>}
                </span>
              </td>
              <td data-label="Address">/{r.table.slug}</td>
              <td data-label="Clients" className="whitespace-normal!">
                {r.clients || <span className="quiet">nobody</span>}
              </td>
              <td data-label="Agency" className="whitespace-normal!">
                {r.agency || <span className="quiet">nobody</span>}
              </td>
            </tr>
          ))}
        </FramedTable>
      )}
    </div>
  );
}
