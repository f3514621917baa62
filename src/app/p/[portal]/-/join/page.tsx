import type { Metadata } from "next";
import { notFound, redirect } from "next/navigation";
import { askToJoin } from "@/features/portal/door/join-actions";
import { joinForm } from "@/features/portal/door/joining";
import { portal, safePath } from "@/features/portal/entry";
import { sayOf } from "@/features/portal/queries";
import { JoinForm } from "@/features/portal/ui/door/join-form";
import { Narrow } from "@/features/portal/ui/door/narrow";
import { marked } from "@/features/portal/ui/marked";

type Props = { params: Promise<{ portal: string }>; searchParams: Promise<{ to?: string }> };

export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: sayOf(await portal((await params).portal))("join.title"),
});

export default async function Page({ params, searchParams }: Props) {
  const to = safePath((await searchParams).to);
  const r = await portal((await params).portal);
  // Whoever is signed in never meets this form.
  if (r.viewer.kind === "person") redirect(r.base + to || "/");
  const form = joinForm(r);
  if (!form) notFound();
  const say = sayOf(r);
  const way = (words: string) => (
    <a className="link-plain" href={`${r.base}/sign-in?to=${encodeURIComponent(to)}`}>
      {words}
    </a>
  );
  return (
    <Narrow title={say("join.title")} lead={form.lead}>
      <JoinForm action={askToJoin} to={to} {...form} />
      <p className="quiet mt-6 text-sm">{marked(say.marked("join.in-already", {}, { way }))}</p>
    </Narrow>
  );
}
