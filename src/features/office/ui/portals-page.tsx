import { mayInOffice } from "@/core/access/office";
import type { Owner } from "@/core/access/viewer";
import { countOf } from "@/data/billing/standing";
import { published } from "@/data/definition/published";
import { portalFile } from "@/data/file/open";
import { listPortals } from "@/data/installation/portals";
import { portalAddress } from "@/identity/addresses";
import type { Staff } from "@/identity/office";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { signOutOfOffice } from "../actions";
import { Mark } from "./mark";
import { NewPortalForm } from "./new-portal-form";

interface Props {
  owner: Owner;
  staff: Staff;
}

export function PortalsPage({ owner, staff }: Props) {
  const portals = listPortals(owner).flatMap((p) => {
    const file = portalFile(p.slug);
    if (!file) return [];
    file.meta.look();
    const { version, definition } = published(file);
    const found = {
      ...p,
      name: definition.portal.name,
      version,
      companies: countOf(file, "t_companies"),
      people: countOf(file, "t_people"),
    };
    file.rest?.(); // there may be very many
    return [found];
  });
  return (
    <main className="mx-auto grid min-h-dvh max-w-4xl content-start gap-8 px-5 py-8">
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
              <td>
                <Link className="link-plain font-medium" href={`/portals/${p.slug}${mayInOffice(staff.role, "records") ? "/data" : ""}`}>
                  {p.name}
                </Link>
              </td>
              <td data-label="Address">
                <a className="link-plain" href={portalAddress(p.slug)}>
                  {portalAddress(p.slug).replace(/^https?:\/\//, "")}
                </a>
              </td>
              <td className="num" data-label="Companies">
                {p.companies}
              </td>
              <td className="num" data-label="People">
                {p.people}
              </td>
              <td className="num" data-label="Version">
                {p.version}
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
