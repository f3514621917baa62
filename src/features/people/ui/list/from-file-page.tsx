import { EVERYONE } from "@/core/access/rules";
import { mayInOffice } from "@/core/access/who/office";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { membershipChoices } from "../../choices";
import { FromFile } from "./from-file";

/** A list of people brought in and invited in one go. */
export function FromFilePage({ p }: { p: OfficePortal }) {
  const { companies, roles, agency, least } = membershipChoices(p);
  const { portal } = p.live.definition;
  const builds = mayInOffice(p.staff.role, "build");
  return (
    <div className="grid max-w-4xl gap-5 [&>*]:min-w-0">
      <Link className="link-plain -mb-2 text-sm print:hidden" href={`${p.at}/people`}>
        People and companies
      </Link>
      <div className="print:hidden">
        <h1>Invite from a list</h1>
        <p className="quiet mt-1 max-w-prose">
          A CSV file, or rows pasted from a spreadsheet: name and e-mail, and if you have them company, roles and passwords. To bring in
          more fields,{" "}
          {builds ? (
            <Link className="link-plain" href={`${p.at}/data/import`}>
              bring the file into People
            </Link>
          ) : (
            "have the file brought into People"
          )}{" "}
          and invite them from there.
        </p>
      </div>
      <FromFile
        portal={p.slug}
        at={`${p.at}/people`}
        name={portal.name}
        address={portalAddress(p.slug)}
        locale={portal.locale}
        companies={companies}
        agency={agency}
        least={least}
        words={builds ? `${p.at}/people/outbox/words` : null}
        roles={roles.filter((r) => r.id !== EVERYONE && !r.companyId)}
      />
    </div>
  );
}
