import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { portal } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { Me } from "@/features/portal/ui/own/me";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ again?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("me.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const r = await portal((await params).portal);
  if (r.viewer.kind !== "person") redirect(`${r.base}/sign-in?to=${encodeURIComponent("/-/me")}`);
  // Who only looks as somebody has no sessions of theirs to look at.
  if (!r.session) redirect(r.base || "/");
  return <Me r={r} session={r.session} again={(await searchParams).again === "1"} />;
}
