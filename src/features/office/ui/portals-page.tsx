import { mayInOffice } from "@/core/access/who/office";
import type { Owner } from "@/core/access/who/viewer";
import type { Staff } from "@/identity/office/sessions";
import { portalAddress } from "@/identity/requests/addresses";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { signOutOfOffice } from "../actions";
import { portalsListed } from "../portals";
import { Mark } from "./mark";
import { NewPortalForm } from "./new-portal-form";

interface Props {
  owner: Owner;
  staff: Staff;
}

/** The portals of the installation, and a new one. */
export async function PortalsPage({ owner, staff }: Props) {
  const portals = await portalsListed(owner);
  return (
    <main className="mx-auto grid min-h-dvh max-w-4xl content-start gap-8 px-5 py-8">
      <OfficeHead staff={staff} />
      <h1>Your portals</h1>
      {portals.length === 0 ? (
        <div className="sheet">
          <Empty title="No portal yet">
            {mayInOffice(staff.role, "build")
              ? "Make the first one below; nothing in it is open to anybody until you say so."
              : "An owner or a builder makes the first one."}
          </Empty>
        </div>
      ) : (
        <FramedTable
          columns={[
            { name: "Portal" },
            { name: "Address" },
            { name: "Companies", num: true },
            { name: "People", num: true },
            { name: "Version", num: true },
          ]}
        >
          {portals.map((p) => (
            <tr key={p.slug}>
              <td className={p.figures ? "" : "max-w-none! whitespace-normal!"}>
                {p.figures ? (
                  <Link className="link-plain font-medium" href={`/portals/${p.slug}${mayInOffice(staff.role, "records") ? "/data" : ""}`}>
                    {p.name}
                  </Link>
                ) : (
                  <>
                    <span className="font-medium">{p.name}</span>
                    <span className="block text-accent">Unavailable. {p.why}</span>
                  </>
                )}
              </td>
              <td data-label="Address">
                <a className="link-plain" href={portalAddress(p.slug)}>
                  {portalAddress(p.slug).replace(/^https?:\/\//, "")}
                </a>
              </td>
              <td className="num" data-label="Companies">
                {p.figures?.companies}
              </td>
              <td className="num" data-label="People">
                {p.figures?.people}
              </td>
              <td className="num" data-label="Version">
                {p.figures?.version}
              </td>
            </tr>
          ))}
        </FramedTable>
      )}
      {mayInOffice(staff.role, "build") && (
        <section aria-labelledby="new-portal">
          <h2 id="new-portal" className="mb-3">
            A new portal
          </h2>
          <NewPortalForm />
        </section>
      )}
    </main>
  );
}

/** Whose back office it is, and ways out of here. */
function OfficeHead({ staff }: { staff: Staff }) {
  return (
    <div className="flex flex-wrap items-center gap-3">
      <Mark size={34} />
      <span className="title grow text-xl font-semibold">Elkhorn</span>
      {mayInOffice(staff.role, "staff") && (
        <Link className="link-plain text-sm" href="/-/staff">
          Who works here
        </Link>
      )}
      <Link className="link-plain text-sm" href="/-/you">
        {staff.name}
      </Link>
      <form action={signOutOfOffice}>
        <button type="submit" className="btn btn-ghost btn-sm">
          Sign out
        </button>
      </form>
    </div>
  );
}
