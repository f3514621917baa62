import { YouPage } from "@/features/office/ui/you-page";
import { office } from "@/identity/requests/office-gate";

export const metadata = { title: "You" };

type Props = { searchParams: Promise<{ again?: string }> };

export default async function Page({ searchParams }: Props) {
  const { staff, session, owner } = await office("overview");
  return <YouPage staff={staff} session={session} now={owner.now} again={(await searchParams).again === "1"} />;
}
