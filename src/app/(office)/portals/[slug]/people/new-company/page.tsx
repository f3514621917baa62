import { addCompanyForm } from "@/features/people/actions";
import { AddCompany } from "@/features/people/ui/forms";
import { officePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";

export const metadata = { title: "Add a company" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  const p = await officePortal((await params).slug, "people");
  return (
    <div className="grid max-w-xl gap-5">
      <Link className="link-plain text-sm" href={`${p.at}/people`}>
        People and companies
      </Link>
      <h1>Add a company</h1>
      <div className="sheet p-6">
        <AddCompany action={addCompanyForm.bind(null, p.slug)} />
      </div>
    </div>
  );
}
