import { dateIn } from "@/core/time/relative";
import { directory } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { companySettings } from "@/joining/company-settings";
import { joinFields, joining } from "@/joining/settings";
import { Link } from "@/ui/link";
import { changeCompanyPages, changeJoining } from "../../joining";
import { CompanyPagesForm, JoiningForm } from "./joining-forms";

/** Who comes in without being asked, and what companies then do for themselves. */
export function JoiningPage({ p }: { p: OfficePortal }) {
  const { schema } = p.live.policy;
  const roles = p.live.definition.roles
    .filter((r) => r.side === "client" && !r.companyId && r.id !== "everyone")
    .map((r) => ({ id: r.id, name: r.name }));
  const fields = joinFields(schema).map((f) => ({ id: f.id, name: f.name, of: schema.table(f.tableId).singular }));
  const { companies } = directory(p.file, p.owner, dateIn(p.now, p.live.definition.portal.timeZone));
  return (
    <div className="grid max-w-4xl gap-6 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/people`}>
          People and companies
        </Link>
      </nav>
      <div>
        <h1>Joining</h1>
        <p className="quiet mt-1 max-w-prose">Who comes in without being asked, and what companies then do for themselves.</p>
      </div>
      <JoiningForm action={changeJoining.bind(null, p.slug)} settings={joining(p.file)} roles={roles} fields={fields} />
      <CompanyPagesForm
        action={changeCompanyPages.bind(null, p.slug)}
        settings={companySettings(p.file)}
        roles={roles}
        companies={companies.slice(0, 200).map((c) => ({ id: c.id, name: c.name, people: c.people }))}
      />
    </div>
  );
}
