import { VersionPage } from "@/features/access/ui/version-page";
import { officePortal } from "@/identity/requests/office-gate";

export const metadata = { title: "A version" };

export default async function Page({ params }: { params: Promise<{ slug: string; version: string }> }) {
  const { slug, version } = await params;
  return <VersionPage p={await officePortal(slug, "build")} version={version} />;
}
