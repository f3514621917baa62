import { StaffPage } from "@/features/office/ui/staff-page";
import { office } from "@/identity/requests/office-gate";

export const metadata = { title: "Who works here" };

export default async function Page() {
  const { owner, staff } = await office("staff");
  return <StaffPage owner={owner} staff={staff} />;
}
