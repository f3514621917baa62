import { redirect } from "next/navigation";
import { stepsOpenTo } from "@/features/office/steps";
import { officePortal } from "@/identity/requests/office-gate";

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  const p = await officePortal((await params).slug, "overview");
  redirect(`${p.at}/${stepsOpenTo(p.staff.role)[0] ?? "-/closed"}`);
}
