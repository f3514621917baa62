import { YouPage } from "@/features/office/ui/you-page";
import { office } from "@/identity/office-gate";

export const metadata = { title: "You" };

export default async function Page() {
  const { staff } = await office("overview");
  return <YouPage staff={staff} />;
}
