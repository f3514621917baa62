import { addPersonForm } from "@/features/people/actions";
import { membershipChoices } from "@/features/people/choices";
import { AddPerson } from "@/features/people/ui/forms";
import { doorSettings } from "@/identity/doors/settings";
import { officePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";

export const metadata = { title: "Add a person" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  const p = await officePortal((await params).slug, "people");
  return (
    <div className="grid max-w-xl gap-5">
      <Link className="link-plain text-sm" href={`${p.at}/people`}>
        People and companies
      </Link>
      <h1>Add a person</h1>
      <div className="sheet p-6">
        <AddPerson action={addPersonForm.bind(null, p.slug)} {...membershipChoices(p)} names={doorSettings(p.file).names} />
      </div>
      <p className="quiet text-sm">Nobody is told yet: open the person afterwards and copy the invitation.</p>
    </div>
  );
}
