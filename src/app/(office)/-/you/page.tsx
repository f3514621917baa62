import { YouPage } from "@/features/office/ui/you-page";
import { office } from "@/identity/office-gate";

export const metadata = { title: "You" };

export default async function Page() {
  const { staff, session, owner } = await office("overview");
  return <YouPage staff={staff} session={session} now={owner.now} />;
}
