import { Plus } from "lucide-react";
import { companyFacts } from "@/data/tables/company-facts";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { plural } from "@/office/words";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { type Hook, hooksOf } from "@/webhooks/hooks";
import { ConnectionsHeading } from "../ui/heading";

/** Where other programs are told of what happens, and whether it arrives. */
export function HooksPage({ p }: { p: OfficePortal }) {
  const hooks = hooksOf(p.file, p.owner);
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <ConnectionsHeading
        at={p.at}
        about="A webhook tells another program what happens here, as it happens. It says what its role can see, and no more."
        make={
          <Link href={`${p.at}/connections/webhooks/new`} className="btn btn-primary">
            <Plus size={16} aria-hidden /> New webhook
          </Link>
        }
      />
      {hooks.length === 0 ? (
        <div className="sheet">
          <Empty title="No webhooks yet">
            You give the address of the other program. It gets a signed message for each event that you choose (Standard Webhooks).
          </Empty>
        </div>
      ) : (
        <FramedTable columns={[{ name: "Webhook" }, { name: "Told of" }, { name: "Sees as" }, { name: "State" }]}>
          {hooks.map((h) => (
            <tr key={h.id}>
              <td>
                <Link className="link-plain font-medium" href={`${p.at}/connections/webhooks/${h.id}`}>
                  {h.name}
                </Link>
                <span className="quiet block text-sm break-all">{h.url}</span>
              </td>
              <td data-label="Told of">
                <div>
                  {plural(p, h.kinds.length, "kind of event", "kinds of event")}
                  <span className="quiet block text-sm">
                    {h.table === null ? "All tables" : (p.live.policy.schema.findTable(h.table)?.name ?? "A table that is gone")}
                    {h.filter && ", filtered"}
                  </span>
                </div>
              </td>
              <td data-label="Sees as">{seesAs(p, h)}</td>
              <td data-label="State">
                <HookState h={h} />
              </td>
            </tr>
          ))}
        </FramedTable>
      )}
    </div>
  );
}

export function seesAs(p: OfficePortal, h: Hook): string {
  const role = p.live.policy.role(h.role)?.name ?? "A role that is gone";
  return h.company === null ? role : `${role} of ${companyFacts(p.file, h.company)?.name ?? "a company that is gone"}`;
}

export function HookState({ h }: { h: Hook }) {
  if (h.pausedAt !== null)
    return (
      <div>
        <span className="font-medium">Paused</span>
        {h.pausedWhy && <span className="block text-sm text-accent">{h.pausedWhy}</span>}
      </div>
    );
  return h.failingSince === null ? <span>Working</span> : <span className="font-medium text-accent">Failing</span>;
}
