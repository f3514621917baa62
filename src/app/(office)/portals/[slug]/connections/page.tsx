import { redirect } from "next/navigation";

/** The room begins with its first part. */
export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  redirect(`/portals/${(await params).slug}/connections/systems`);
}
