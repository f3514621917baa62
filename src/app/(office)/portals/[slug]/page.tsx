import { redirect } from "next/navigation";
import { officePortal } from "@/identity/office-gate";

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  redirect(`${(await officePortal((await params).slug)).at}/data`);
}
