import { OFFICE_ROLE_WORDS } from "@/core/access/who/office";
import { officePortal } from "@/identity/requests/office-gate";
import { Empty } from "@/ui/empty";

export const metadata = { title: "Not open to you" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  const { staff } = await officePortal((await params).slug, "overview");
  const { name, about } = OFFICE_ROLE_WORDS[staff.role];
  return (
    <div className="sheet">
      <Empty title="This part is not open to you">
        You are here as {name}. {about} An owner can give you another role.
      </Empty>
    </div>
  );
}
